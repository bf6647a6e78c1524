import { type Audio, durationOf, toMono } from './audio';
import { measureEnvelopes } from './partials/partialEnvelopes';
import { type Reading, type Series, seriesAt } from './schema';

/** What can be listened to alone, to hear what a trait was told from. */
export const evidenceKinds = [
  'partial',
  'pitch',
  'loudness',
  'brightness',
  'noise',
  'sides',
  'motion',
  'tail',
] as const;
export type EvidenceKind = (typeof evidenceKinds)[number];

export interface WantedEvidence {
  kind: EvidenceKind;
  /** Number of the partial, from 1; of `partial` only. */
  partial?: number;
}

/** Peak that evidence is brought to: parts are quiet by themselves. */
const PEAK = 0.5;
const FADE_SECONDS = 0.005;
/** As many partials as are taken out of the noise. */
const MOST_PARTIALS = 256;

/**
 * A part of a cut alone, as long as the cut: one partial, the pitch as a sine, the level contour on noise, the cutoff on noise, what is left
 * without the partials, the sides, the beat of a movement over the cut, the tail. Null where the cut has no such thing.
 */
export function evidenceOf(audio: Audio, reading: Reading, { kind, partial = 1 }: WantedEvidence): Audio | null {
  const made = makers[kind](audio, reading, partial);
  if (!made) return null;
  return { channels: atPeak(made).map((channel) => Float32Array.from(channel)), sampleRateHz: audio.sampleRateHz };
}

type Maker = (audio: Audio, reading: Reading, partial: number) => Float64Array[] | undefined;

const makers: Record<EvidenceKind, Maker> = {
  partial(audio, { traits: { pitch } }, number) {
    if (pitch.f0Hz === null) return undefined;
    return [soloPartials(audio, pitch.f0Hz, pitchAt(pitch.contour, pitch.f0Hz), number, number)];
  },

  pitch(audio, { traits: { pitch, loudness } }) {
    if (pitch.f0Hz === null) return undefined;
    const hzAt = pitchAt(pitch.contour, pitch.f0Hz);
    let cycles = 0;
    return [
      fill(audio, (seconds) => {
        cycles += hzAt(seconds) / audio.sampleRateHz;
        return gainAt(loudness.contour, seconds) * Math.sin(2 * Math.PI * cycles);
      }),
    ];
  },

  loudness(audio, { traits: { loudness } }) {
    const noise = createNoise();
    return [fill(audio, (seconds) => gainAt(loudness.contour, seconds) * noise())];
  },

  brightness(audio, { traits: { brightness, loudness } }) {
    const { cutoffContour, contour } = brightness;
    const line = cutoffContour.values.some((hz) => hz !== null) ? cutoffContour : contour;
    const noise = createNoise();
    const states = [0, 0, 0, 0];
    let hz = line.values.find((value) => value !== null) ?? 1000;
    return [
      fill(audio, (seconds) => {
        hz = seriesAt(line, seconds) ?? hz;
        const share = 1 - Math.exp((-2 * Math.PI * Math.min(hz, 0.45 * audio.sampleRateHz)) / audio.sampleRateHz);
        let x = noise();
        for (let i = 0; i < states.length; i++) x = states[i] += share * (x - states[i]);
        return gainAt(loudness.contour, seconds) * x;
      }),
    ];
  },

  noise(audio, { traits: { pitch } }) {
    if (pitch.f0Hz === null) return undefined;
    const partials = soloPartials(audio, pitch.f0Hz, pitchAt(pitch.contour, pitch.f0Hz), 1, MOST_PARTIALS);
    return [toMono(audio).map((x, i) => x - partials[i])];
  },

  sides({ channels }) {
    if (channels.length < 2) return undefined;
    const side = Float64Array.from(channels[0], (x, i) => (x - channels[1][i]) / 2);
    return [side, side.map((x) => -x)];
  },

  motion(audio, { traits: { motion } }) {
    if (motion.length === 0) return undefined;
    const { rateHz } = motion.reduce((a, b) => (b.confidence > a.confidence ? b : a));
    const mono = toMono(audio);
    const peak = peakOf([mono]);
    // A tick of some milliseconds at every turn, over the cut.
    return [
      mono.map((x, i) => {
        const turns = (i / audio.sampleRateHz) * rateHz;
        const since = (turns - Math.floor(turns)) / rateHz;
        return x + peak * Math.exp(-since / TICK_SECONDS) * Math.sin(2 * Math.PI * TICK_HZ * since);
      }),
    ];
  },

  tail(audio, { traits: { loudness } }) {
    const end = durationOf(audio);
    const from = loudness.noteOffSeconds ?? (loudness.onsetSeconds ?? 0) + (loudness.attackSeconds ?? 0);
    if (from > end - 0.05) return undefined;
    const fade = (seconds: number) => Math.max(0, Math.min(1, (seconds - from) / FADE_SECONDS));
    return audio.channels.map((channel) => Float64Array.from(channel, (x, i) => x * fade(i / audio.sampleRateHz)));
  },
};

const TICK_SECONDS = 0.004;
const TICK_HZ = 2400;

const fill = ({ channels, sampleRateHz }: Audio, at: (seconds: number) => number) =>
  Float64Array.from({ length: channels[0].length }, (_, i) => at(i / sampleRateHz));

/** The measured pitch at a time, the last known one where there is none. */
function pitchAt(contour: Series, f0Hz: number): (seconds: number) => number {
  let last = f0Hz;
  return (seconds) => {
    const hz = seriesAt(contour, seconds);
    // What is far from the fundamental is an octave that a frame took for it.
    if (hz !== null && Math.abs(Math.log2(hz / f0Hz)) < 0.4) last = hz;
    return last;
  };
}

/** Level at a time, straight between the contour's points. */
function gainAt({ hopSeconds, values }: Series, seconds: number): number {
  const x = seconds / hopSeconds;
  const [a, b] = [values[Math.floor(x)] ?? -120, values[Math.floor(x) + 1] ?? -120].map((db) => 10 ** (db / 20));
  return a + (x - Math.floor(x)) * (b - a);
}

/** White noise that is the same every time (a linear congruential generator; Numerical Recipes). */
function createNoise(): () => number {
  let state = 1;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 2147483648 - 1;
  };
}

/** Partials of a cut alone: what their envelopes hold, turned back to where it came from. */
function soloPartials(
  audio: Audio,
  f0Hz: number,
  f0At: (seconds: number) => number,
  first: number,
  last: number,
): Float64Array {
  const mono = toMono(audio);
  const { partials, seconds, hopSeconds } = measureEnvelopes(mono, audio.sampleRateHz, f0Hz, {
    mostPartials: last,
    f0At,
  });
  let cycles = 0;
  return mono.map((_, i) => {
    const place = (i / audio.sampleRateHz - (seconds[0] ?? 0)) / hopSeconds;
    const frame = Math.max(0, Math.min(seconds.length - 2, Math.floor(place)));
    const along = Math.max(0, Math.min(1, place - frame));
    const [c1, s1, firstC, firstS] = [1, first].flatMap((n) => [
      Math.cos(2 * Math.PI * n * cycles),
      Math.sin(2 * Math.PI * n * cycles),
    ]);
    cycles += f0At(i / audio.sampleRateHz) / audio.sampleRateHz;
    cycles -= Math.floor(cycles);
    let sum = 0;
    // Multiples of the angle by turning on.
    for (let n = first, c = firstC, s = firstS; n <= Math.min(last, partials.length); n++) {
      const { re, im } = partials[n - 1];
      const a = re[frame] + along * (re[frame + 1] - re[frame]);
      const b = im[frame] + along * (im[frame + 1] - im[frame]);
      sum += a * c - b * s;
      const next = c * c1 - s * s1;
      s = s * c1 + c * s1;
      c = next;
    }
    return sum;
  });
}

const peakOf = (channels: readonly Float64Array[]) =>
  channels.reduce((most, channel) => channel.reduce((a, x) => Math.max(a, Math.abs(x)), most), 0);

/** Brought to one peak, with short fades at both ends. */
function atPeak(channels: readonly Float64Array[]): Float64Array[] {
  const gain = PEAK / (peakOf(channels) || 1);
  return channels.map((channel) => {
    const fade = Math.min(220, channel.length / 4);
    return channel.map((x, i) => gain * x * Math.min(1, i / fade, (channel.length - 1 - i) / fade));
  });
}
