import type { Audio } from './audio';
import { peakOf } from './evidenceSounds';
import type { Reading } from './schema';
import { traits } from './traits';
import type { EvidenceMaker } from './traits/descriptor';

/** What can be listened to alone, to hear what a trait was told from. */
const makers = {
  ...traits.pitch.evidence,
  ...traits.loudness.evidence,
  ...traits.brightness.evidence,
  ...traits.partials.evidence,
  ...traits.noise.evidence,
  ...traits.unison.evidence,
  ...traits.width.evidence,
  ...traits.motion.evidence,
  ...traits.space.evidence,
  ...traits.dirt.evidence,
};

export type EvidenceKind = keyof typeof makers;
export const evidenceKinds = Object.keys(makers) as EvidenceKind[];

export interface WantedEvidence {
  kind: EvidenceKind;
  /** Number of the partial, from 1; of `partial` only. */
  partial?: number;
}

/** Peak that evidence is brought to: parts are quiet by themselves. */
const PEAK = 0.5;

/**
 * A part of a cut alone, as long as the cut: one partial, the pitch as a sine, the level contour on noise,
 * the cutoff on noise, what is left without the partials, the sides, the beat of a movement over the cut, the
 * tail. Null where the cut has no such thing.
 */
export function evidenceOf(audio: Audio, reading: Reading, { kind, partial = 1 }: WantedEvidence): Audio | null {
  const make: EvidenceMaker = makers[kind];
  const made = make(audio, reading, partial);
  if (!made) return null;
  return { channels: atPeak(made).map((channel) => Float32Array.from(channel)), sampleRateHz: audio.sampleRateHz };
}

/** Brought to one peak, with short fades at both ends. */
function atPeak(channels: readonly Float64Array[]): Float64Array[] {
  const gain = PEAK / (peakOf(channels) || 1);
  return channels.map((channel) => {
    const fade = Math.min(220, channel.length / 4);
    return channel.map((x, i) => gain * x * Math.min(1, i / fade, (channel.length - 1 - i) / fade));
  });
}
