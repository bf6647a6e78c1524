import { resample } from '../../dsp/sinc';
import { type PhraseNote, renderPatch } from '../../engine/render';
import type { Patch } from '../../patch/schema';
import { type Audio, type IsolatedTone, durationOf, sliceAudio } from '../../reading/audio';
import { type Tone, heardOf } from '../comparison';
import { Listener } from '../distance/listeningDistance';
import { preparedOf } from '../prepared';

/** A reference, and what a patch plays to be compared with it. */
export interface Judged extends Tone {
  notes: readonly PhraseNote[];
  seed: number;
}

/**
 * How closely is listened: for searching, no longer than is needed and at half the rate, which goes without
 * the top octave; or at the whole; or in full, at the reference's own rate over all of it.
 */
export type Rate = 'half' | 'whole' | 'full';

/** Distance of a patch, JND; Infinity where it cannot be played. */
export type Hearing = (patch: Patch) => number;

/** More of a cut says little more about its tone. */
const MOST_SECONDS = 5;
/** Rates up to this are not halved. */
const LOW_RATE_HZ = 32000;

/** Of several cuts of a tone, the root of the mean square of their distances. */
export function createHearing(cuts: readonly Judged[], rate: Rate): Hearing {
  const hearings = cuts.map((cut) => {
    const surroundings = cut.surroundings && heardAt(cut.surroundings, rate);
    return hearingOf(cut, { audio: heardAt(cut.audio, rate), surroundings });
  });
  if (hearings.length === 1) return hearings[0];
  return (patch) => Math.hypot(...hearings.map((hearing) => hearing(patch))) / Math.sqrt(hearings.length);
}

function heardAt(audio: Audio, rate: Rate): Audio {
  if (rate === 'full') return audio;
  const short = sliceAudio(audio, 0, Math.min(durationOf(audio), MOST_SECONDS));
  if (rate === 'whole' || audio.sampleRateHz <= LOW_RATE_HZ) return short;
  return {
    channels: short.channels.map((channel) => Float32Array.from(resample(channel, 0.5))),
    sampleRateHz: audio.sampleRateHz / 2,
  };
}

function hearingOf({ reading, notes: phrase, seed }: Judged, { audio, surroundings }: IsolatedTone): Hearing {
  const seconds = durationOf(audio);
  const { sampleRateHz } = audio;
  const notes = phrase.filter(({ onsetSeconds }) => onsetSeconds < seconds);
  const listener = new Listener(audio, heardOf({ reading, surroundings }));
  return (patch) => {
    const channels = renderPatch({ patch, notes, sampleRateHz, seconds, seed, resources: preparedOf(patch) });
    const { overallJnd } = listener.compare({ channels, sampleRateHz });
    return Number.isFinite(overallJnd) ? overallJnd : Infinity;
  };
}
