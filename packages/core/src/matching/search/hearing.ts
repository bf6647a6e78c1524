import { resample } from '../../dsp/sinc';
import { type PhraseNote, renderPatch } from '../../engine/render';
import type { Patch } from '../../patch/schema';
import { type Audio, durationOf, sliceAudio } from '../../reading/audio';
import { type Tone, heardOf } from '../comparison';
import { Listener } from '../distance/listeningDistance';
import { preparedOf } from '../prepared';
import { gainsOfHalfRate, withGains } from './halfRate';

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

/** Listens to patches at one rate. */
export interface Hearing {
  /** How far a patch is away, JND; Infinity where it cannot be played. */
  distance: (patch: Patch) => number;
  /**
   * From here on the reference is heard as if half the rate had changed it as it changes this patch: a model
   * that is cheap and a little wrong, set right where the search is (space mapping: Bandler et al. 1994).
   * Nothing at other rates.
   */
  calibrate: (patch: Patch) => void;
}

/** More of a cut says little more about its tone. */
const MOST_SECONDS = 5;
/** Rates up to this are not halved. */
const LOW_RATE_HZ = 32000;

/** Of several cuts of a tone, the root of the mean square of their distances. */
export function createHearing(cuts: readonly Judged[], rate: Rate): Hearing {
  const hearings = cuts.map((cut) => hearingOf(cut, rate));
  if (hearings.length === 1) return hearings[0];
  return {
    distance: (patch) => Math.hypot(...hearings.map(({ distance }) => distance(patch))) / Math.sqrt(hearings.length),
    calibrate: (patch) => hearings.forEach(({ calibrate }) => calibrate(patch)),
  };
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

function hearingOf(cut: Judged, rate: Rate): Hearing {
  const { reading, notes: phrase, seed } = cut;
  const audio = heardAt(cut.audio, rate);
  const surroundings = cut.surroundings && heardAt(cut.surroundings, rate);
  const seconds = durationOf(audio);
  const notes = phrase.filter(({ onsetSeconds }) => onsetSeconds < seconds);
  const played = (patch: Patch, sampleRateHz: number): Audio => ({
    channels: renderPatch({ patch, notes, sampleRateHz, seconds, seed, resources: preparedOf(patch) }),
    sampleRateHz,
  });
  let listener = new Listener(audio, heardOf({ reading, surroundings }));
  return {
    distance(patch) {
      const { overallJnd } = listener.compare(played(patch, audio.sampleRateHz));
      return Number.isFinite(overallJnd) ? overallJnd : Infinity;
    },
    calibrate(patch) {
      if (audio.sampleRateHz === cut.audio.sampleRateHz) return;
      const gains = gainsOfHalfRate(played(patch, cut.audio.sampleRateHz), played(patch, audio.sampleRateHz));
      const around = surroundings && withGains(surroundings, gains);
      listener = new Listener(withGains(audio, gains), heardOf({ reading, surroundings: around }));
    },
  };
}
