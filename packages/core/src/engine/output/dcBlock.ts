/**
 * Corner of the high-pass that takes constants away: low enough to leave the lowest bass alone (−0.01 dB at
 * 27.5 Hz).
 */
const CORNER_HZ = 5;
/** What is left of it is forgotten below this, so that silence gets silent. */
const FORGOTTEN = 1e-9;

/**
 * Takes the constant part from a signal, also one that grows with an envelope, which a single pole would let
 * through. A Butterworth high-pass of second order, trapezoidal (Zavalishin, The Art of VA Filter Design,
 * 4.4).
 */
export interface DcBlock {
  readonly silent: boolean;
  clear(): void;
  run(signal: Float64Array): void;
}

export function createDcBlock(sampleRateHz: number, cornerHz = CORNER_HZ): DcBlock {
  const g = Math.tan((Math.PI * cornerHz) / sampleRateHz);
  const damping = Math.SQRT2 + g;
  const scale = 1 / (1 + g * damping);
  /** States of the two integrators. */
  const state = new Float64Array(2);
  return {
    get silent() {
      return state[0] === 0 && state[1] === 0;
    },
    clear: () => void state.fill(0),
    run(signal) {
      let band = state[0];
      let low = state[1];
      for (let i = 0; i < signal.length; i++) {
        const high = (signal[i] - damping * band - low) * scale;
        const bandNow = band + g * high;
        band = bandNow + g * high;
        const step = g * bandNow;
        low += 2 * step;
        signal[i] = high;
      }
      state[0] = Math.abs(band) < FORGOTTEN ? 0 : band;
      state[1] = Math.abs(low) < FORGOTTEN ? 0 : low;
    },
  };
}
