import { filterBiquad, highpassBiquad } from '../../dsp/biquad';
import { type LevelContour, type Waveform, levelOfWaveform } from '../level/levelContour';
import { median } from '../statistics';
import { type Fit, isRepeating, power } from './repeats';
import { type PowersBetween, powersOf } from './sides';
import { STEP_SECONDS, beforeRise, levelsInSteps } from './tail';

/** A stroke's highs are over before its body is: of what lies over these the clearest tells. */
const OVER_HZ = [1250, 2500, 5000];
/** Of the two sections of Butterworth's high-pass of the fourth order. */
const QS = [0.5412, 1.3066];
/** What is softer against the whole is not heard. */
const SOFTEST_BAND_DB = -45;
/** The highs of a stroke have fallen at most so far when they come back. */
const FALLEN_DB = -60;
/** A return has come within such a time, the last of its way at once; a filter opens by and by. */
const RISE_SECONDS = 0.06;
const SUDDEN_SECONDS = 0.012;
const ARRIVED = 0.8;
const BEGUN = 0.3;
/** A stroke is compared down to so far under its top, over so long at least. */
const COMPARED_DB = -20;
const LEAST_SECONDS = 0.02;
/** What was there before a repeat is what was so long before it and the window that it is seen through. */
const LEAST_AHEAD_SECONDS = 0.012;
/** A repeat is as softer at all of them, within this, and stands out from what was there before it. */
const MOST_MISSED_DB = 1.5;
const STANDS_OUT_DB = 3;
const NEVER_DB = -60;

/** What comes back of a stroke, by its highs. */
export interface StruckEcho {
  fit: Fit;
  /** Of its highs. */
  powersBetween: PowersBetween;
}

/**
 * The echo of a tone that goes on sounding when it comes: the level of its body hardly rises then, but the
 * highs that it was struck with are there again, all at once (our own method). Undefined without one.
 */
export function struckEchoOf(waveform: Waveform): StruckEcho | undefined {
  const wholeRms = loudestOf(levelOfWaveform(waveform));
  const found = OVER_HZ.flatMap((hz) => {
    const highs = over(waveform, hz);
    const level = levelOfWaveform(highs);
    if (loudestOf(level) < wholeRms * 10 ** (SOFTEST_BAND_DB / 20)) return [];
    const levels = levelsInSteps(level);
    return beforeRise(levels, FALLEN_DB).flatMap((from) => {
      const stroke = riseAfter(level, 0);
      const back = riseAfter(level, from * STEP_SECONDS);
      if (back.seconds > SUDDEN_SECONDS + level.windowSeconds) return [];
      const turn = timed(back.atSeconds - stroke.atSeconds, stroke.atSeconds, highs);
      const fit = softerBy(level, stroke.atSeconds, turn);
      return fit && isRepeating(fit) ? [{ fit: { ...fit, from }, powersBetween: powersOf(highs) }] : [];
    });
  });
  return found.length > 0 ? found.reduce((a, b) => (b.fit.missedDb < a.fit.missedDb ? b : a)) : undefined;
}

/** When a level has come nearly to its top after a time, and how long the last half of its way took. */
function riseAfter({ rms, hopSeconds }: LevelContour, fromSeconds: number) {
  const begin = Math.round(fromSeconds / hopSeconds);
  const stretch = rms.subarray(begin, begin + Math.round(RISE_SECONDS / hopSeconds));
  const top = stretch.reduce((max, x) => Math.max(max, x), 0);
  const least = stretch.reduce((min, x) => Math.min(min, x), top);
  const arrived = stretch.findIndex((x) => x > ARRIVED * top);
  const low = Math.min(Math.sqrt(least * top), BEGUN * top);
  const left = stretch.subarray(0, arrived).findLastIndex((x) => x < low);
  return { atSeconds: (begin + arrived) * hopSeconds, seconds: (arrived - left) * hopSeconds };
}

/**
 * By how much a stroke is softer each time, beside what was there before it; undefined where it is not the
 * same stroke.
 */
function softerBy({ rms, hopSeconds, windowSeconds }: LevelContour, fromSeconds: number, seconds: number) {
  const [first, lag] = [fromSeconds, seconds].map((x) => Math.round(x / hopSeconds));
  const [ahead, window] = [LEAST_AHEAD_SECONDS, windowSeconds].map((x) => Math.ceil(x / hopSeconds));
  const top = rms.subarray(first, first + lag).reduce((max, x) => Math.max(max, x), 0);
  const times = (turns: number) => {
    const own = rms[Math.max(0, first - ahead - window + turns * lag)] ** 2;
    const differences: number[] = [];
    for (let i = first; i < first + lag && i + turns * lag < rms.length; i++) {
      const back = rms[i + turns * lag] ** 2 - own;
      if (rms[i] > top * 10 ** (COMPARED_DB / 20) && back > own * (power(STANDS_OUT_DB) - 1))
        differences.push(10 * Math.log10(back / rms[i] ** 2));
    }
    const db = median(differences);
    const missedDb = median(differences.map((x) => Math.abs(x - db)));
    return differences.length * hopSeconds > LEAST_SECONDS && missedDb < MOST_MISSED_DB ? { db, missedDb } : undefined;
  };
  const once = times(1);
  if (!once) return undefined;
  const twice = times(2);
  return {
    steps: seconds / STEP_SECONDS,
    levelDb: once.db,
    feedbackDb: twice ? twice.db - once.db : NEVER_DB,
    releaseSteps: 1,
    missedDb: once.missedDb,
  };
}

/** The stretch of a stroke that is looked for again, in turns of its echo, and how near it has to be. */
const LOOKED_TURN = 0.5;
const OFF_SECONDS = 0.008;
const LEAST_LIKENESS = 0.5;

/** The time between repeats to the sample: that at which the wave is most like its stroke. */
function timed(turn: number, strokeSeconds: number, { channels, sampleRateHz, fromSeconds }: Waveform): number {
  const begin = Math.max(0, Math.round((strokeSeconds - OFF_SECONDS - fromSeconds) * sampleRateHz));
  const end = begin + Math.round(LOOKED_TURN * turn * sampleRateHz);
  let [best, likest] = [turn, LEAST_LIKENESS];
  for (let lag = Math.round((turn - OFF_SECONDS) * sampleRateHz); lag < (turn + OFF_SECONDS) * sampleRateHz; lag++) {
    let [together, now, later] = [0, 0, 0];
    for (const channel of channels) {
      for (let i = begin; i < Math.min(end, channel.length - lag); i++) {
        together += channel[i] * channel[i + lag];
        now += channel[i] ** 2;
        later += channel[i + lag] ** 2;
      }
    }
    const likeness = together / Math.sqrt(now * later || 1);
    if (likeness > likest) [best, likest] = [lag / sampleRateHz, likeness];
  }
  return best;
}

const loudestOf = ({ rms }: LevelContour) => rms.reduce((max, x) => Math.max(max, x), 0);

/** What of a sound lies over a frequency. */
function over({ channels, ...rest }: Waveform, hz: number): Waveform {
  const sections = QS.map((q) => highpassBiquad(hz, q, rest.sampleRateHz));
  const highs = channels.map((channel) => sections.reduce<ArrayLike<number>>(filterBiquad, channel));
  return { ...rest, channels: highs };
}
