import { gainFromDecibels } from '../../../dsp/decibels';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { BLOCK_SAMPLES } from '../../sources/source';
import { compressedDb } from './compressor';
import type { EffectModel, EffectOf } from '../chain/effect';
import { ringing } from '../chain/ringing';

export const KNEE_DB = 6;
/** Attack and release of each band at 100 %, and the time that its mean power is of: lows are slower. */
const TIMES = [
  { attackSeconds: 0.03, releaseSeconds: 0.25, meanSeconds: 0.025 },
  { attackSeconds: 0.012, releaseSeconds: 0.16, meanSeconds: 0.01 },
  { attackSeconds: 0.005, releaseSeconds: 0.1, meanSeconds: 0.004 },
];
const NAMES = ['low', 'mid', 'high'].map((band) => ({
  downDb: `${band}DownDb`,
  downRatio: `${band}DownRatio`,
  upDb: `${band}UpDb`,
  upRatio: `${band}UpRatio`,
  outDb: `${band}OutDb`,
}));
/** Lifts what is soft by no more; what is as soft as this is noise, and left. */
const MOST_LIFT_DB = 36;
const NOISE_DB = -80;
const FLOOR_DB = -140;

/**
 * How much a level is lifted towards a threshold, dB: the mirror of a compressor's curve, which leaves noise
 * alone.
 */
export function liftedDb(levelDb: number, thresholdDb: number, ratio: number): number {
  const under = thresholdDb - levelDb;
  if (under <= 0) return 0;
  const lift = Math.min(MOST_LIFT_DB, (1 - 1 / ratio) * under);
  // Over the last 20 dB before the noise the lift goes back.
  return lift * Math.max(0, Math.min(1, (levelDb - NOISE_DB) / 20));
}

/**
 * Three bands that add up to an all-pass (Linkwitz & Riley 1976, 24 dB per octave; the low band goes through
 * the upper crossover's all-pass), each turned down over one level and up under another by its mean power,
 * with attack and release.
 */
export const multiband: EffectModel<EffectOf<'multiband'>> = {
  leavesDc: () => true,
  tailSeconds(effect) {
    // What is soft is lifted again while it dies away.
    return ringing(effect.lowHz, 2) + 1;
  },
  create(sampleRateHz) {
    const bands = [0, 1, 2].map(() => [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)]);
    const spare = new Float64Array(BLOCK_SAMPLES);
    /**
     * Sections of a side: two of each low- and high-pass at both crossovers, and those of the low band's
     * all-pass.
     */
    const states = [0, 1].map(() => Array.from({ length: 6 }, () => createSections(2)));
    const passes = [0, 1, 2, 3].map(() => new Float64Array(2 * SECTION));
    const still = new Float64Array(2 * SECTION);
    const powers = new Float64Array(3);
    const gains = new Float64Array(3).fill(NaN);
    /** What each band is turned by, dB, with attack and release. */
    const moved = new Float64Array(3).fill(NaN);
    const reduction = { db: 0 };

    function pass(signal: Float64Array, state: Float64Array, coefficients: Float64Array): void {
      runSection(state, 0, signal, 0, BLOCK_SAMPLES, coefficients, still, false);
      runSection(state, 1, signal, 0, BLOCK_SAMPLES, coefficients, still, false);
    }

    function split(side: number, signal: Float64Array): void {
      const [lowBelow, highAbove, lowUpper, highUpper] = passes;
      const own = states[side];
      const [low, mid, high] = [bands[0][side], bands[1][side], bands[2][side]];
      low.set(signal);
      pass(low, own[0], lowBelow);
      mid.set(signal);
      pass(mid, own[1], highAbove);
      high.set(mid);
      pass(mid, own[2], lowUpper);
      pass(high, own[3], highUpper);
      spare.set(low);
      pass(low, own[4], lowUpper);
      pass(spare, own[5], highUpper);
      for (let i = 0; i < BLOCK_SAMPLES; i++) low[i] += spare[i];
    }

    return {
      latency: 0,
      clear() {
        for (const side of states) for (const state of side) state.fill(0);
        powers.fill(0);
        gains.fill(NaN);
        moved.fill(NaN);
      },
      run({ slots }, values, left, right) {
        const lower = integratorGain(values[slots.lowHz], sampleRateHz);
        const upper = integratorGain(values[slots.highHz], sampleRateHz);
        for (let s = 0; s < 2; s++) {
          section.lowpass(passes[0], s, lower, Math.SQRT2);
          section.highpass(passes[1], s, lower, Math.SQRT2);
          section.lowpass(passes[2], s, upper, Math.SQRT2);
          section.highpass(passes[3], s, upper, Math.SQRT2);
        }
        split(0, left);
        split(1, right);
        left.fill(0);
        right.fill(0);
        const amount = values[slots.amount] / 100;
        const scale = values[slots.timeScale] / 100;
        reduction.db = 0;
        for (let b = 0; b < 3; b++) {
          const names = NAMES[b];
          const { attackSeconds, releaseSeconds, meanSeconds } = TIMES[b];
          const smoothing = 1 - Math.exp(-1 / (sampleRateHz * meanSeconds));
          const [bandL, bandR] = bands[b];
          let power = powers[b];
          for (let i = 0; i < BLOCK_SAMPLES; i++) {
            const l = bandL[i] * bandL[i];
            const r = bandR[i] * bandR[i];
            // A sine's mean square is half its peak's: levels are told as those of peaks, of the louder side.
            power += smoothing * (2 * (l > r ? l : r) - power);
          }
          powers[b] = power > 1e-18 ? power : 0;
          const levelDb = power > 1e-14 ? 10 * Math.log10(power) : FLOOR_DB;
          const down = compressedDb(levelDb, values[slots[names.downDb]], values[slots[names.downRatio]], KNEE_DB);
          const up = liftedDb(levelDb, values[slots[names.upDb]], values[slots[names.upRatio]]);
          const wanted = amount * (down + up);
          if (Number.isNaN(moved[b])) moved[b] = wanted;
          const seconds = scale * (wanted < moved[b] ? attackSeconds : releaseSeconds);
          moved[b] += (1 - Math.exp(-BLOCK_SAMPLES / sampleRateHz / seconds)) * (wanted - moved[b]);
          const target = gainFromDecibels(moved[b] + values[slots[names.outDb]]);
          if (Number.isNaN(gains[b])) gains[b] = target;
          const step = (target - gains[b]) / BLOCK_SAMPLES;
          for (let i = 0; i < BLOCK_SAMPLES; i++) {
            const gain = gains[b] + (i + 1) * step;
            left[i] += gain * bandL[i];
            right[i] += gain * bandR[i];
          }
          gains[b] = target;
          reduction.db = Math.max(reduction.db, -amount * down);
        }
      },
      hiddenSamples: () => 0,
      reductionDb: () => reduction.db,
    };
  },
};
