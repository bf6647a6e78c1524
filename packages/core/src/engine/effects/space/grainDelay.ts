import { ratioFromSemitones } from '../../../dsp/pitch';
import { writeRandom } from '../../random';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from '../chain/effect';
import { rounds } from '../chain/ringing';

type GrainDelay = EffectOf<'grainDelay'>;

const MOST_GRAINS = 16;
const MOST_SECONDS = 4.5;
const HIGHEST_RATIO = 16;
const SEED = 23;

interface Grain {
  /** Samples that it has run, and that it will run; over when they are the same. */
  age: number;
  length: number;
  /** How far back it reads now, and by how much nearer it comes from sample to sample. */
  distance: number;
  approach: number;
  gainL: number;
  gainR: number;
}

/**
 * Short pieces of what was played a while ago, each under a window, at a time and a pitch that may be
 * scattered (granular synthesis: Roads 1988).
 */
export const grainDelay: EffectModel<GrainDelay> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds(effect) {
    const round = effect.timeSeconds + effect.spraySeconds + effect.sizeSeconds;
    return round + effect.sizeSeconds + rounds(effect.feedback, round);
  },
  create(sampleRateHz) {
    const most = Math.ceil(MOST_SECONDS * sampleRateHz);
    const line = [new DelayLine(most), new DelayLine(most)];
    const grains = Array.from({ length: MOST_GRAINS }, (): Grain => ({
      age: 0,
      length: 0,
      distance: 0,
      approach: 0,
      gainL: 0,
      gainR: 0,
    }));
    const feedback = new Ramp();
    const random = new Float64Array(1);
    const state = { next: 0, begun: 0, backL: 0, backR: 0 };

    function scatter(what: number): number {
      writeRandom(random, 0, SEED, state.begun, what);
      return 2 * random[0] - 1;
    }

    function begin({ slots }: EffectProgram<GrainDelay>, values: Float64Array, length: number): void {
      let free = 0;
      while (free < MOST_GRAINS && grains[free].age < grains[free].length) free++;
      state.begun++;
      if (free === MOST_GRAINS) return;
      const grain = grains[free];
      const semitones = values[slots.semitones] + scatter(0) * values[slots.randomSemitones];
      const ratio = Math.min(HIGHEST_RATIO, ratioFromSemitones(semitones));
      const seconds = values[slots.timeSeconds] + 0.5 * (1 + scatter(1)) * values[slots.spraySeconds];
      grain.age = 0;
      grain.length = length;
      grain.approach = ratio - 1;
      // A grain that reads faster than is written must not arrive at what is not written yet.
      grain.distance = Math.max(3 + Math.max(0, grain.approach) * length, seconds * sampleRateHz);
      grain.distance = Math.min(most - 4 + Math.min(0, grain.approach) * length, grain.distance);
      const aside = scatter(2) * (values[slots.width] / 100);
      grain.gainL = 1 - Math.max(0, aside);
      grain.gainR = 1 + Math.min(0, aside);
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...line, feedback]) part.clear();
        for (const grain of grains) grain.length = grain.age = 0;
        Object.assign(state, { next: 0, begun: 0, backL: 0, backR: 0 });
      },
      run(program, values, left, right) {
        const { slots } = program;
        const density = values[slots.density];
        const length = Math.round(values[slots.sizeSeconds] * sampleRateHz);
        // Windows of a sine squared add up to half their number; scattered ones do so in power.
        const gain = density <= 2 ? 1 : Math.sqrt(2 / density);
        // Grains that happen to agree add up to more: what goes round must become less even then.
        const agreeing = Math.max(1, Math.ceil(density) / 2) * gain;
        feedback.to(values[slots.feedback] / 100 / agreeing, BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const back = feedback.value + (i + 1) * feedback.step;
          line[0].write(left[i] + back * state.backL);
          line[1].write(right[i] + back * state.backR);
          state.next -= 1;
          if (state.next <= 0) {
            begin(program, values, length);
            state.next += length / density;
          }
          let outL = 0;
          let outR = 0;
          for (let g = 0; g < MOST_GRAINS; g++) {
            const grain = grains[g];
            if (grain.age >= grain.length) continue;
            const sine = Math.sin((Math.PI * (grain.age + 0.5)) / grain.length);
            const window = gain * sine * sine;
            outL += window * grain.gainL * line[0].read(grain.distance);
            outR += window * grain.gainR * line[1].read(grain.distance);
            grain.distance -= grain.approach;
            grain.age++;
          }
          left[i] = outL;
          right[i] = outR;
          state.backL = Math.max(-1, Math.min(1, outL));
          state.backR = Math.max(-1, Math.min(1, outR));
        }
        feedback.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: ({ slots }, values) =>
        Math.ceil(
          sampleRateHz * (values[slots.timeSeconds] + values[slots.spraySeconds] + 2 * values[slots.sizeSeconds]),
        ),
    };
  },
};
