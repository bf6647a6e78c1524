import { createDcBlock } from '../../output/dcBlock';
import { integratorGain } from '../../filters/filter';
import { SECTION, section } from '../../filters/stateVariable';
import { stereoSections } from '../../filters/stereoSections';
import { type ShaperProgram, SHAPER_LATENCY, createShaperChannel } from '../../shaping/shaper';
import { curveTableOf } from '../../shaping/shaperCurves';
import { BLOCK_SAMPLES } from '../../sources/source';
import { MovingCoefficients } from './movingCoefficients';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { DC_BLOCK_SECONDS, ringing } from '../chain/ringing';

type Drive = EffectOf<'drive'>;

/** Curves that are not the same upwards and downwards, or may be drawn so. */
const CROOKED: ReadonlySet<Drive['curve']> = new Set(['tube', 'diode', 'drawn']);

/** Levels in and out are compared over so long. */
const LEVEL_SECONDS = 0.3;
/** A filter that is as open as this is none. */
const OPEN_HZ = 20000;
/** Energy of a block that is silence. */
const SILENT_ENERGY = 1e-10;
/** A match lifts no more than this: what comes out of a drive is seldom softer. */
const MOST_LIFT = 8;

/** The shaper's curves, oversampled, with a low-pass before or behind and a match of level. */
export const drive: EffectModel<Drive> = {
  mixesItself: true,
  levelsItself: true,
  tailSeconds(effect) {
    // The constant that a crooked curve leaves goes slowly.
    return ringing(effect.toneHz, 1) + DC_BLOCK_SECONDS;
  },
  create(sampleRateHz) {
    const shapers = [createShaperChannel(), createShaperChannel()];
    // Curves that are not the same on both sides, and a bias, leave a constant behind, which is no level that
    // anybody hears.
    const dcBlocks = [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)];
    let blocking = false;
    const toneStates = stereoSections.create(1);
    const tone = new MovingCoefficients(SECTION);
    const matching = new Ramp();
    /**
     * Mean energy of a block that goes in, as late as what comes out, and of that; and the energy of what has
     * gone in and not come out.
     */
    const energy = new Float64Array(2);
    let underWay = 0;
    const smoothing = 1 - Math.exp(-BLOCK_SAMPLES / sampleRateHz / LEVEL_SECONDS);
    const shaper: ShaperProgram = { on: true, table: curveTableOf('soft', []), slots: {} };
    let known: Drive | undefined;

    function runTone(left: Float64Array, right: Float64Array): void {
      stereoSections.take(left, right);
      stereoSections.run(toneStates, 1, tone.now, tone.step, tone.moving);
      stereoSections.give(left, right);
    }

    return {
      latency: SHAPER_LATENCY,
      clear() {
        for (const channel of shapers) channel.clear();
        for (const block of dcBlocks) block.clear();
        blocking = false;
        toneStates.fill(0);
        tone.clear();
        matching.clear();
        energy.fill(0);
        underWay = 0;
      },
      run({ spec, slots }, values, left, right) {
        if (known?.curve !== spec.curve || known.drawnCurve !== spec.drawnCurve)
          shaper.table = curveTableOf(spec.curve, spec.drawnCurve);
        known = spec;
        shaper.slots = slots;
        const toned = values[slots.toneHz] < OPEN_HZ;
        if (toned) {
          section.lowpass(tone.next, 0, integratorGain(values[slots.toneHz], sampleRateHz), Math.SQRT2);
          tone.setOut();
        } else tone.clear();
        if (spec.matchLevel) {
          const through = energyOf(left, right, 0, BLOCK_SAMPLES - SHAPER_LATENCY);
          energy[0] += smoothing * (underWay + through - energy[0]);
          underWay = energyOf(left, right, BLOCK_SAMPLES - SHAPER_LATENCY, BLOCK_SAMPLES);
        } else {
          energy.fill(0);
          underWay = 0;
        }
        if (toned && spec.tone === 'before') runTone(left, right);
        shapers[0].run(shaper, values, left, 0, BLOCK_SAMPLES);
        shapers[1].run(shaper, values, right, 0, BLOCK_SAMPLES);
        // Once it runs it goes on: what it holds is not to be lost at once.
        blocking ||= values[slots.mix] > 0 && (values[slots.bias] !== 0 || CROOKED.has(spec.curve));
        if (blocking) {
          dcBlocks[0].run(left);
          dcBlocks[1].run(right);
        }
        if (toned && spec.tone === 'behind') runTone(left, right);
        if (spec.matchLevel) energy[1] += smoothing * (energyOf(left, right, 0, BLOCK_SAMPLES) - energy[1]);
        tone.arrive();
        const matched = spec.matchLevel && energy[1] > SILENT_ENERGY;
        matching.to(matched ? Math.min(MOST_LIFT, Math.sqrt(energy[0] / energy[1])) : 1, BLOCK_SAMPLES);
        matching.amplify(left, right);
      },
      hiddenSamples: () => SHAPER_LATENCY,
    };
  },
};

function energyOf(left: Float64Array, right: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += left[i] * left[i] + right[i] * right[i];
  return sum;
}
