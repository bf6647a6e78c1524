import { forgetSmall } from '../../filters/stateVariable';

/** Pole beside the zero at half the rate. */
const TOP_POLE = 0.8;

/**
 * Leaves out of what is fed back what lies next to 0 and to half the rate: a zero at either, with a pole
 * beside it.
 */
export function createLoopFilter(sampleRateHz: number, lowHz: number) {
  const pole = 1 - (2 * Math.PI * lowHz) / sampleRateHz;
  const gain = ((1 + pole) / 2) * ((1 + TOP_POLE) / 2);
  const state = { x: 0, low: 0, high: 0, y: 0 };
  return {
    /** What came out last. */
    get y() {
      return state.y;
    },
    clear: () => void Object.assign(state, { x: 0, low: 0, high: 0, y: 0 }),
    run(x: number): void {
      const low = x - state.x + pole * state.low;
      const high = low + state.low - TOP_POLE * state.high;
      state.x = x;
      state.low = forgetSmall(low);
      state.high = forgetSmall(high);
      state.y = gain * high;
    },
  };
}
