import { integratorGain } from '../filters/filter';
import { SECTION, createSections, runSection, section } from '../filters/stateVariable';
import { type ShaperProgram, SHAPER_LATENCY, createShaperChannel } from '../shaper';
import { curveTableOf } from '../shaperCurves';
import { BLOCK_SAMPLES } from '../sources/source';
import { MovingCoefficients } from './movingCoefficients';
import { type EffectModel, type EffectOf, Ramp } from './effect';

type Drive = EffectOf<'drive'>;

/** Levels in and out are compared over so long. */
const LEVEL_SECONDS = 0.3;
/** A filter that is as open as this is none. */
const OPEN_HZ = 20000;
const SILENT_POWER = 1e-12;
/** A match lifts no more than this: what comes out of a drive is seldom softer. */
const MOST_LIFT = 8;

/** The shaper's curves, four times oversampled, with a low-pass before or behind and a match of level. */
export const drive: EffectModel<Drive> = {
  mixesItself: true,
  levelsItself: true,
  create(sampleRateHz) {
    const shapers = [createShaperChannel(BLOCK_SAMPLES), createShaperChannel(BLOCK_SAMPLES)];
    const tones = [createSections(1), createSections(1)];
    const tone = new MovingCoefficients(SECTION);
    const matching = new Ramp();
    /** Mean power that goes in and comes out. */
    const power = new Float64Array(2);
    const smoothing = 1 - Math.exp(-BLOCK_SAMPLES / sampleRateHz / LEVEL_SECONDS);
    const shaper: ShaperProgram = { on: true, table: curveTableOf('soft', []), slots: {} };
    let known: Drive | undefined;

    return {
      latency: SHAPER_LATENCY,
      clear() {
        for (const channel of shapers) channel.clear();
        for (const states of tones) states.fill(0);
        tone.clear();
        matching.clear();
        power.fill(0);
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
        const { now, step, moving } = tone;
        power[0] += smoothing * (powerOf(left, right) - power[0]);
        for (let c = 0; c < 2; c++) {
          const signal = c === 0 ? left : right;
          if (toned && spec.tone === 'before') runSection(tones[c], 0, signal, 0, BLOCK_SAMPLES, now, step, moving);
          shapers[c].run(shaper, values, signal, 0, BLOCK_SAMPLES);
          if (toned && spec.tone === 'behind') runSection(tones[c], 0, signal, 0, BLOCK_SAMPLES, now, step, moving);
        }
        power[1] += smoothing * (powerOf(left, right) - power[1]);
        tone.arrive();
        const matched = spec.matchLevel && power[1] > SILENT_POWER;
        matching.to(matched ? Math.min(MOST_LIFT, Math.sqrt(power[0] / power[1])) : 1, BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const gain = matching.value + (i + 1) * matching.step;
          left[i] *= gain;
          right[i] *= gain;
        }
        matching.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => SHAPER_LATENCY,
    };
  },
};

function powerOf(left: Float64Array, right: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < BLOCK_SAMPLES; i++) sum += left[i] * left[i] + right[i] * right[i];
  return sum / (2 * BLOCK_SAMPLES);
}
