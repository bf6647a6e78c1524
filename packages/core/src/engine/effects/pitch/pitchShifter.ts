import { ratioFromSemitones } from '../../../dsp/pitch';
import { butterworthQs } from '../../filters/butterworth';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { createLoopFilter } from './loopFilter';
import { createPitchHeads, pitchHeadsReach } from './pitchHeads';
import { rounds } from '../chain/ringing';

const MOST_WINDOW_SECONDS = 0.2;
/** What would come out over half the rate is taken away first, from this share of the rate on. */
const TOP_SHARE = 0.49;
/** Rounds that lead down end here: what lies lower is no tone. */
const LOOP_LOW_HZ = 20;
const QS = butterworthQs(8);

/**
 * Plays everything higher or lower, as late as half its window is long; fed back, each round is shifted
 * again.
 */
export const pitchShifter: EffectModel<EffectOf<'pitchShifter'>> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds: (effect) => effect.windowSeconds + rounds(effect.feedback, effect.windowSeconds),
  create(sampleRateHz) {
    const mostWindow = MOST_WINDOW_SECONDS * sampleRateHz;
    const reach = pitchHeadsReach(mostWindow, sampleRateHz);
    const lines: [DelayLine, DelayLine] = [new DelayLine(reach), new DelayLine(reach)];
    const heads = createPitchHeads(lines, sampleRateHz, mostWindow);
    const ratios = [new Ramp(), new Ramp()];
    const feedback = new Ramp();
    const ramps = [...ratios, feedback];
    const loops = [0, 1].map(() => createLoopFilter(sampleRateHz, LOOP_LOW_HZ));
    const tops = [createSections(QS.length), createSections(QS.length)];
    const top = new Float64Array(QS.length * SECTION);
    const still = new Float64Array(top.length);

    /** Takes away what would fold back, in what comes in: what is fed back has gone through before. */
    function takeTop(signal: Float64Array, side: number, highestRatio: number): void {
      const g = integratorGain((TOP_SHARE * sampleRateHz) / Math.max(1, highestRatio), sampleRateHz);
      for (let s = 0; s < QS.length; s++) {
        section.lowpass(top, s, g, 1 / QS[s]);
        runSection(tops[side], s, signal, 0, BLOCK_SAMPLES, top, still, false);
      }
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, heads, ...loops, ...ramps]) part.clear();
        for (const states of tops) states.fill(0);
      },
      run({ slots }, values, left, right) {
        const semitones = values[slots.semitones];
        const apart = values[slots.apartCents] / 200;
        const [below, above] = [ratioFromSemitones(semitones - apart), ratioFromSemitones(semitones + apart)];
        ratios[0].to(below, BLOCK_SAMPLES);
        ratios[1].to(above, BLOCK_SAMPLES);
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        const window = values[slots.windowSeconds] * sampleRateHz;
        takeTop(left, 0, Math.max(ratios[0].value, below));
        takeTop(right, 1, Math.max(ratios[1].value, above));
        heads.prepare(ratios[0].value === ratios[1].value && ratios[0].step === ratios[1].step, window);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const back = feedback.value + (i + 1) * feedback.step;
          lines[0].write(left[i] + back * loops[0].y);
          lines[1].write(right[i] + back * loops[1].y);
          const ratioLeft = ratios[0].value + (i + 1) * ratios[0].step;
          const ratioRight = ratios[1].value + (i + 1) * ratios[1].step;
          left[i] = heads.read(0, ratioLeft, window);
          right[i] = heads.read(1, ratioRight, window);
          loops[0].run(left[i]);
          loops[1].run(right[i]);
          heads.advance(ratioLeft, ratioRight);
        }
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => reach,
    };
  },
};
