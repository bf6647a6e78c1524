import { decibelsFromPower, gainFromDecibels } from '../../../dsp/decibels';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { createDcBlock } from '../../output/dcBlock';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { createHilbert } from '../pitch/hilbert';

type Compressor = EffectOf<'compressor'>;

/**
 * The level of a tone is that of its envelope, which stands still while the tone swings: found as the length
 * of the pair that the tone makes with itself a quarter of a turn later. Within a degree from 40 Hz on, which
 * is 0.1 dB.
 */
const ENVELOPE_SECTIONS = 10;
const ENVELOPE_FROM_HZ = 25;

/**
 * Time constant of the mean square that an RMS detector looks at. A sine counts there as it does for its
 * peaks.
 */
const RMS_SECONDS = 0.01;
const FLOOR_DB = -120;
/** From here on a ratio counts as infinite. */
const LIMITING_RATIO = 100;
/** A key that plays nothing. */
const SILENCE = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)] as const;
/** Under this low cut the key is the signal itself. */
const NO_KEY_FILTER_HZ = 10;

/**
 * How much louder than the threshold a level comes out, dB (negative: taken off): straight lines with a
 * parabola of the knee's width between them (Giannoulis, Massberg & Reiss 2012, eq. 4).
 */
export function compressedDb(levelDb: number, thresholdDb: number, ratio: number, kneeDb: number): number {
  const slope = ratio >= LIMITING_RATIO ? -1 : 1 / ratio - 1;
  const over = levelDb - thresholdDb;
  if (2 * over <= -kneeDb) return 0;
  if (2 * over >= kneeDb) return slope * over;
  return (slope * (over + kneeDb / 2) ** 2) / (2 * kneeDb);
}

/**
 * A gain that comes back faster than this follows the wave itself, half of it more than the other, and leaves
 * a constant behind.
 */
const FAST_SECONDS = 0.05;

/**
 * A feed-forward compressor for both channels as one. Its gain is smoothed in dB, with the attack's time
 * constant while it goes down and the release's while it comes back (same source, 2.4), so the times are
 * those after which 63 % of the way are gone.
 */
export const compressor: EffectModel<Compressor> = {
  tailSeconds: () => 0,
  create(sampleRateHz) {
    const keys = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    const sections = [createSections(1), createSections(1)];
    const cut = new Float64Array(SECTION);
    const still = new Float64Array(SECTION);
    const rms = 1 - Math.exp(-1 / sampleRateHz / RMS_SECONDS);
    /** Mean square, and what is taken off, dB. */
    const state = new Float64Array(2);
    const output = new Ramp();
    const dcBlocks = [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)];
    let blocking = false;
    const transition = ENVELOPE_FROM_HZ / sampleRateHz;
    const pairs = [createHilbert(ENVELOPE_SECTIONS, transition), createHilbert(ENVELOPE_SECTIONS, transition)];

    function fillKeys(lowCutHz: number, left: Float64Array, right: Float64Array): void {
      keys[0].set(left);
      keys[1].set(right);
      if (lowCutHz <= NO_KEY_FILTER_HZ) return;
      section.highpass(cut, 0, integratorGain(lowCutHz, sampleRateHz), Math.SQRT2);
      for (let c = 0; c < 2; c++) runSection(sections[c], 0, keys[c], 0, BLOCK_SAMPLES, cut, still, false);
    }

    return {
      latency: 0,
      clear() {
        for (const states of sections) states.fill(0);
        state.fill(0);
        output.clear();
        for (const part of [...pairs, ...dcBlocks]) part.clear();
        blocking = false;
      },
      run({ spec, slots }, values, left, right, around) {
        const thresholdDb = values[slots.thresholdDb];
        const ratio = values[slots.ratio];
        const kneeDb = values[slots.kneeDb];
        const attack = 1 - Math.exp(-1 / (sampleRateHz * values[slots.attackSeconds]));
        const release = 1 - Math.exp(-1 / (sampleRateHz * values[slots.releaseSeconds]));
        const isRms = spec.detector === 'rms';
        // Half of what full scale would lose.
        const auto = spec.autoMakeUp ? -compressedDb(0, thresholdDb, ratio, kneeDb) / 2 : 0;
        const key = spec.keyLayerId === null ? undefined : (around.layer(spec.keyLayerId) ?? SILENCE);
        fillKeys(values[slots.keyLowCutHz], key?.[0] ?? left, key?.[1] ?? right);
        output.to(values[slots.makeUpDb] + auto, BLOCK_SAMPLES);
        const [keyL, keyR] = keys;
        let square = state[0];
        let taken = state[1];
        const [pairL, pairR] = pairs;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          pairL.run(keyL[i]);
          pairR.run(keyR[i]);
          const l = pairL.pair.re * pairL.pair.re + pairL.pair.im * pairL.pair.im;
          const r = pairR.pair.re * pairR.pair.re + pairR.pair.im * pairR.pair.im;
          const envelope = l > r ? l : r;
          square += rms * (envelope - square);
          const power = isRms ? square : envelope;
          const levelDb = decibelsFromPower(power, FLOOR_DB);
          const target = compressedDb(levelDb, thresholdDb, ratio, kneeDb);
          taken += (target < taken ? attack : release) * (target - taken);
          const gain = gainFromDecibels(taken + output.value + (i + 1) * output.step);
          left[i] *= gain;
          right[i] *= gain;
        }
        for (let c = 0; c < 2; c++) pairs[c].settle();
        // Once it runs it goes on: what it holds is not to be lost at once.
        blocking ||= values[slots.releaseSeconds] < FAST_SECONDS;
        if (blocking) {
          dcBlocks[0].run(left);
          dcBlocks[1].run(right);
        }
        output.advance(BLOCK_SAMPLES);
        state[0] = square > 1e-18 ? square : 0;
        state[1] = taken < -1e-9 ? taken : 0;
      },
      hiddenSamples: () => 0,
      reductionDb: () => -state[1],
    };
  },
};
