import { gainFromDecibels } from '../../../dsp/decibels';
import { beatsOfDivision } from '../../../parameters/division';
import { PATTERN_STEPS } from '../../../parameters/effects/ducker';
import { drawnAt } from '../../shaping/drawnLine';
import { BLOCK_SAMPLES } from '../../sources/source';
import { createCrossover } from '../chain/crossover';
import { type EffectModel, type EffectOf, type EffectProgram, type Surroundings, Ramp } from '../chain/effect';
import { CROSSOVER_Q, ringing } from '../chain/ringing';

type Ducker = EffectOf<'ducker'>;

export const STEPS_A_BEAT = 4;
/** It goes down within so long, fast and without a click. */
const DOWN_SECONDS = 0.003;
/** From here on the whole band is ducked. */
const WHOLE_HZ = 20000;
/**
 * A key has struck when its level within a moment goes so much over that of the time before, and over the
 * threshold.
 */
const FAST_SECONDS = 0.002;
const SLOW_SECONDS = 0.08;
const STRIKE_RATIO = 1.6;
const LEAST_GAP_SECONDS = 0.06;

/**
 * How far it is down, 1 to 0, so long after a stroke, as a share of the release; `bend` −1..1 makes it come
 * back late or early.
 */
export function duckedShare(along: number, bend: number): number {
  if (along >= 1) return 0;
  return (1 - along) ** (2 ** (2 * bend));
}

/**
 * Turns down in time with something: a line drawn over a division of the beat, a pattern of sixteenths, or
 * the strokes of another layer. All of the sound, or only what lies under a frequency, so that the kick has
 * room. It mixes itself, since what is dry has to go through the same split.
 */
export const ducker: EffectModel<Ducker> = {
  standsApart: true,
  mixesItself: true,
  tailSeconds: (effect) => ringing(effect.belowHz, CROSSOVER_Q),
  create(sampleRateHz) {
    const crossovers = [createCrossover(sampleRateHz), createCrossover(sampleRateHz)];
    const high = new Float64Array(BLOCK_SAMPLES);
    /** What is taken off, as a share, of what is ducked. */
    const taken = new Float64Array(BLOCK_SAMPLES);
    const [depth, mix] = [new Ramp(), new Ramp()];
    /** Beats since it began, seconds since the last stroke, how far it is down, and the levels of the key. */
    const state = { beats: 0, sinceStroke: Infinity, step: -1, share: 0, fast: 0, slow: 0 };
    const smoothing = 1 - Math.exp(-1 / (sampleRateHz * (DOWN_SECONDS / 3)));
    const fast = 1 - Math.exp(-1 / (sampleRateHz * FAST_SECONDS));
    const slow = 1 - Math.exp(-1 / (sampleRateHz * SLOW_SECONDS));

    /** Whether the key strikes at this sample. */
    function strikes(key: readonly [Float64Array, Float64Array] | undefined, i: number, threshold: number): boolean {
      const level = key ? Math.max(Math.abs(key[0][i]), Math.abs(key[1][i])) : 0;
      state.fast += fast * (level - state.fast);
      state.slow += slow * (level - state.slow);
      return state.fast > threshold && state.fast > STRIKE_RATIO * state.slow && state.sinceStroke > LEAST_GAP_SECONDS;
    }

    /** How far down it should be at this sample, 0..1. */
    function wanted(
      { spec, slots }: EffectProgram<Ducker>,
      values: Float64Array,
      key: readonly [Float64Array, Float64Array] | undefined,
      i: number,
    ): number {
      if (spec.key === 'drawn') {
        const length = beatsOfDivision(spec.division)!;
        return 1 - drawnAt(spec.curve, (state.beats / length) % 1);
      }
      if (spec.key === 'pattern') {
        const step = Math.floor(state.beats * STEPS_A_BEAT);
        if (step !== state.step && spec.pattern[step % PATTERN_STEPS]) state.sinceStroke = 0;
        state.step = step;
      } else if (strikes(key, i, gainFromDecibels(values[slots.thresholdDb]))) state.sinceStroke = 0;
      state.sinceStroke += 1 / sampleRateHz;
      return duckedShare(state.sinceStroke / values[slots.releaseSeconds], values[slots.bend] / 100);
    }

    function keyOf({ spec }: EffectProgram<Ducker>, around: Surroundings) {
      return spec.key === 'layer' && spec.keyLayerId !== null ? around.layer(spec.keyLayerId) : undefined;
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...crossovers, depth, mix]) part.clear();
        Object.assign(state, { beats: 0, sinceStroke: Infinity, step: -1, share: 0, fast: 0, slow: 0 });
      },
      run(program, values, left, right, around) {
        const { slots, bpm, onlyAdded } = program;
        mix.to(values[slots.mix] / 100, BLOCK_SAMPLES);
        depth.to(values[slots.depthDb], BLOCK_SAMPLES);
        const key = keyOf(program, around);
        const belowHz = values[slots.belowHz];
        const whole = belowHz >= WHOLE_HZ;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const target = wanted(program, values, key, i);
          state.share += (target > state.share ? smoothing : 1) * (target - state.share);
          const gain = gainFromDecibels(-(depth.value + (i + 1) * depth.step) * state.share);
          taken[i] = (mix.value + (i + 1) * mix.step) * (1 - gain);
          state.beats += bpm / 60 / sampleRateHz;
        }
        depth.advance(BLOCK_SAMPLES);
        mix.advance(BLOCK_SAMPLES);
        const through = onlyAdded ? 0 : 1;
        for (let side = 0; side < 2; side++) {
          const signal = side === 0 ? left : right;
          if (whole) high.fill(0);
          else {
            crossovers[side].tune(belowHz);
            crossovers[side].split(signal, high);
          }
          for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] = through * (high[i] + signal[i]) - taken[i] * signal[i];
        }
      },
      hiddenSamples: () => 0,
      reductionDb: () => depth.value * state.share,
    };
  },
};
