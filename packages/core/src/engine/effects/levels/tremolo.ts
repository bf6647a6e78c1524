import { rateOfDivision } from '../../../parameters/division';
import { drawnAt } from '../../shaping/drawnLine';
import { hashedRandom } from '../../random';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';

type Tremolo = EffectOf<'tremolo'>;

/** Edges of a movement are rounded by this time constant, so that they make no clicks. */
const EDGE_SECONDS = 0.0008;

/**
 * The level goes up and down; with the sides apart, from side to side. At the top of its turn a signal is as
 * it came.
 */
export const tremolo: EffectModel<Tremolo> = {
  leavesDc: ({ rateHz }) => rateHz > 10,
  tailSeconds: () => 0,
  create(sampleRateHz) {
    const depth = new Ramp();
    const apart = new Ramp();
    const edge = 1 - Math.exp(-1 / sampleRateHz / EDGE_SECONDS);
    /** Cycles, and the smoothed turn of either side, 1 at the top; NaN before the first sample. */
    const state = { cycles: 0, left: NaN, right: NaN };
    return {
      latency: 0,
      clear() {
        depth.clear();
        apart.clear();
        Object.assign(state, { cycles: 0, left: NaN, right: NaN });
      },
      run({ spec, slots, bpm }, values, left, right) {
        const free = values[slots.rateHz];
        const turn = ((spec.division === null ? undefined : rateOfDivision(spec.division, bpm)) ?? free) / sampleRateHz;
        depth.to(values[slots.depth] / 100, BLOCK_SAMPLES);
        apart.to(values[slots.apartCycles], BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const targetL = tremoloTurn(spec, state.cycles);
          const targetR = tremoloTurn(spec, state.cycles + apart.value + (i + 1) * apart.step);
          state.left = Number.isNaN(state.left) ? targetL : state.left + edge * (targetL - state.left);
          state.right = Number.isNaN(state.right) ? targetR : state.right + edge * (targetR - state.right);
          const share = depth.value + (i + 1) * depth.step;
          left[i] *= 1 - share * (1 - state.left);
          right[i] *= 1 - share * (1 - state.right);
          state.cycles += turn;
        }
        depth.advance(BLOCK_SAMPLES);
        apart.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => 0,
    };
  },
};

type Shape = Pick<Tremolo, 'shape' | 'drawnTurn'>;

/**
 * How far up a movement is, 0..1, so many turns after it began; round ones begin at their top, random ones
 * are the same at every render.
 */
export function tremoloTurn({ shape, drawnTurn }: Shape, cycles: number): number {
  const turn = Math.floor(cycles);
  const x = cycles - turn;
  switch (shape) {
    case 'sine':
      return 0.5 + 0.5 * Math.cos(2 * Math.PI * x);
    case 'triangle':
      return Math.abs(2 * x - 1);
    case 'rising':
      return x;
    case 'falling':
      return 1 - x;
    case 'square':
      return x < 0.5 ? 1 : 0;
    case 'randomSteps':
      return hashedRandom(SEED, turn, 0);
    case 'randomCurve': {
      const from = hashedRandom(SEED, turn, 0);
      return from + (0.5 - 0.5 * Math.cos(Math.PI * x)) * (hashedRandom(SEED, turn + 1, 0) - from);
    }
    case 'drawn':
      return drawnAt(drawnTurn, x);
  }
}

const SEED = 31;
