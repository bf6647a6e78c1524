import { type PhraseNote, renderPatch } from '../../engine/render';
import type { Patch } from '../../patch/schema';
import { type Audio, durationOf, sliceAudio } from '../../reading/audio';
import { resample } from '../../dsp/sinc';
import type { Reading } from '../../reading/schema';
import { heardOf } from '../comparison';
import { preparedOf } from '../prepared';
import { Listener } from '../distance/listeningDistance';

/** More of a cut says little more about its tone. */
const MOST_SECONDS = 5;
/** Rates over this are halved for the search: the octave that is lost is looked at in the end. */
const WHOLE_RATE_HZ = 32000;

/** Tells how far a patch is from a reference, and counts how often it was asked. */
export interface Judge {
  /** Distance in JND; Infinity where the patch cannot be played. */
  distance: (patch: Patch) => number;
  renders: () => number;
}

export interface Judged {
  audio: Audio;
  reading: Reading;
  notes: readonly PhraseNote[];
  seed: number;
}

/** A judge at the reference's own rate, over all of it. */
export function fullJudge({ audio, reading, notes, seed }: Judged): Judge {
  return judgeOf(audio, reading, notes, seed);
}

/** A judge for searching: no longer than is needed, and at half the rate unless the whole is asked for. */
export function quickJudge({ audio, reading, notes, seed }: Judged, isWholeRate = false): Judge {
  const short = sliceAudio(audio, 0, Math.min(durationOf(audio), MOST_SECONDS));
  if (isWholeRate || audio.sampleRateHz <= WHOLE_RATE_HZ) return judgeOf(short, reading, notes, seed);
  const halved = {
    channels: short.channels.map((channel) => Float32Array.from(resample(channel, 0.5))),
    sampleRateHz: audio.sampleRateHz / 2,
  };
  return judgeOf(halved, reading, notes, seed);
}

/** One judge of several cuts of a tone: the root of the mean square of their distances. */
export function jointJudge(judges: readonly Judge[]): Judge {
  if (judges.length === 1) return judges[0];
  return {
    distance: (patch) => Math.hypot(...judges.map((judge) => judge.distance(patch))) / Math.sqrt(judges.length),
    renders: () => judges.reduce((sum, judge) => sum + judge.renders(), 0),
  };
}

function judgeOf(audio: Audio, reading: Reading, phrase: readonly PhraseNote[], seed: number): Judge {
  const seconds = durationOf(audio);
  const { sampleRateHz } = audio;
  const notes = phrase.filter(({ onsetSeconds }) => onsetSeconds < seconds);
  const listener = new Listener(audio, heardOf(reading));
  let count = 0;
  return {
    distance: (patch) => {
      count++;
      const channels = renderPatch({ patch, notes, sampleRateHz, seconds, seed, resources: preparedOf(patch) });
      const { overallJnd } = listener.compare({ channels, sampleRateHz });
      return Number.isFinite(overallJnd) ? overallJnd : Infinity;
    },
    renders: () => count,
  };
}
