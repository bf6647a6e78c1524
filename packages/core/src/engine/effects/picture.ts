import type { Effect, Shaper } from '../../patch/schema';
import { RESPONSE_SAMPLES, gainsOf } from '../filters/response';
import { compilePatchChain } from '../patchChain';
import { curveTableOf } from '../shaperCurves';
import { BLOCK_SAMPLES } from '../sources/source';
import { compressedDb } from './compressor';
import { createEffectChain } from './effectChain';
import { KNEE_DB, liftedDb } from './multiband';
import { tremoloTurn } from './tremolo';

/** What an effect does, to be drawn: worked out by running it, or from the very curve that it runs. */
export interface EffectPicture {
  /**
   * Gain in dB over octaves of 1 Hz; output over input, as samples or in dB; gain over a turn in cycles; level of a click in dB over
   * seconds.
   */
  of: 'response' | 'curve' | 'levels' | 'turn' | 'decay';
  points: { x: number; y: number }[];
}

const RESPONSE_RATE_HZ = 44100;
/** Echoes and rooms are drawn at a low rate: their lows die away alike. */
const DECAY_RATE_HZ = 11025;
const MOST_DECAY_SECONDS = 4;
const DECAY_STEP_SECONDS = 0.005;
export const DECAY_FLOOR_DB = -72;
const CURVE_POINTS = 160;
const LOWEST_DB = -60;

export function effectPicture(effect: Effect, bpm: number): EffectPicture {
  switch (effect.kind) {
    case 'drive':
      return { of: 'curve', points: shaperCurve(effect) };
    case 'reducer': {
      const step = 2 ** (1 - effect.bits);
      return { of: 'curve', points: along(-1, 1, (x) => step * Math.round(x / step)) };
    }
    case 'tremolo':
      return { of: 'turn', points: along(0, 2, (x) => 1 - (effect.depth / 100) * (1 - tremoloTurn(effect.shape, x))) };
    case 'multiband': {
      // Of the middle band: the others are set in the same way.
      const { midDownDb, midDownRatio, midUpDb, midUpRatio, midOutDb, amount } = effect;
      const moved = (x: number) => compressedDb(x, midDownDb, midDownRatio, KNEE_DB) + liftedDb(x, midUpDb, midUpRatio);
      return { of: 'levels', points: along(LOWEST_DB, 0, (x) => x + (amount / 100) * moved(x) + midOutDb) };
    }
    case 'compressor': {
      const { thresholdDb, ratio, kneeDb, makeUpDb, autoMakeUp } = effect;
      const lift = makeUpDb - (autoMakeUp ? compressedDb(0, thresholdDb, ratio, kneeDb) / 2 : 0);
      return {
        of: 'levels',
        points: along(LOWEST_DB, 0, (x) => x + compressedDb(x, thresholdDb, ratio, kneeDb) + lift),
      };
    }
    case 'limiter':
      return { of: 'levels', points: along(LOWEST_DB, 0, (x) => Math.min(effect.ceilingDb, x + effect.driveDb)) };
    case 'delay':
    case 'reverb':
      return { of: 'decay', points: decayOf(effect, bpm) };
    default: {
      const [left] = responseOf(effect, bpm, RESPONSE_RATE_HZ, RESPONSE_SAMPLES);
      const gains = gainsOf(left, 1, RESPONSE_RATE_HZ);
      return { of: 'response', points: gains.map(({ hz, db }) => ({ x: Math.log2(hz), y: db })) };
    }
  }
}

/** Output over input of a shaper, with its drive and lean. */
export function shaperCurve({
  curve,
  drawnCurve,
  driveDb,
  bias,
}: Pick<Shaper, 'curve' | 'drawnCurve' | 'driveDb' | 'bias'>): EffectPicture['points'] {
  const table = curveTableOf(curve, drawnCurve);
  const drive = 10 ** (driveDb / 20);
  const lean = bias / 100;
  return along(-1, 1, (x) => table.curve(drive * x + lean) - table.curve(lean));
}

const along = (from: number, to: number, y: (x: number) => number) =>
  Array.from({ length: CURVE_POINTS }, (_, i) => {
    const x = from + ((to - from) * i) / (CURVE_POINTS - 1);
    return { x, y: y(x) };
  });

/** What becomes of a click on both sides. */
function responseOf(effect: Effect, bpm: number, sampleRateHz: number, samples: number): [Float64Array, Float64Array] {
  const { effects, values } = compilePatchChain({ bpm, effects: [{ ...effect, on: true }] });
  const chain = createEffectChain(sampleRateHz, [effect]);
  const left = new Float64Array(samples);
  const right = new Float64Array(samples);
  left[0] = right[0] = 1;
  for (let at = 0; at + BLOCK_SAMPLES <= samples; at += BLOCK_SAMPLES) {
    chain.run(effects, values, left.subarray(at, at + BLOCK_SAMPLES), right.subarray(at, at + BLOCK_SAMPLES));
  }
  return [left, right];
}

/** Level of the wet signal over time, the louder of both sides, dB against its own highest. */
function decayOf(effect: Effect, bpm: number): { x: number; y: number }[] {
  const samples = BLOCK_SAMPLES * Math.floor((MOST_DECAY_SECONDS * DECAY_RATE_HZ) / BLOCK_SAMPLES);
  const [left, right] = responseOf({ ...effect, mix: 100 }, bpm, DECAY_RATE_HZ, samples);
  const step = Math.round(DECAY_STEP_SECONDS * DECAY_RATE_HZ);
  const levels = Array.from({ length: Math.floor(samples / step) }, (_, i) => {
    let peak = 0;
    for (let k = i * step; k < (i + 1) * step; k++) peak = Math.max(peak, Math.abs(left[k]), Math.abs(right[k]));
    return peak;
  });
  const top = Math.max(...levels, 1e-9);
  const points = levels.map((peak, i) => ({
    x: i * DECAY_STEP_SECONDS,
    y: Math.max(DECAY_FLOOR_DB, 20 * Math.log10(peak / top + 1e-9)),
  }));
  const last = points.findLastIndex(({ y }) => y > DECAY_FLOOR_DB);
  return points.slice(0, Math.max(20, last + 1));
}
