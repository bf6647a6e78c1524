/** Corner of the high-pass that takes constants away: low enough to leave the lowest bass alone. */
const CORNER_HZ = 5;
/** What is left of it is forgotten below this, so that silence gets silent. */
const FORGOTTEN = 1e-9;

/** Takes the constant part from a signal: one pole and a zero at 0 Hz (Smith, Introduction to Digital Filters, "DC blocker"). */
export interface DcBlock {
  readonly silent: boolean;
  run(signal: Float64Array): void;
}

export function createDcBlock(sampleRateHz: number): DcBlock {
  const pole = Math.exp((-2 * Math.PI * CORNER_HZ) / sampleRateHz);
  /** Last input and last output. */
  const state = new Float64Array(2);
  return {
    get silent() {
      return state[0] === 0 && state[1] === 0;
    },
    run(signal) {
      let x = state[0];
      let y = state[1];
      for (let i = 0; i < signal.length; i++) {
        y = signal[i] - x + pole * y;
        x = signal[i];
        signal[i] = y;
      }
      state[0] = x;
      state[1] = Math.abs(y) < FORGOTTEN ? 0 : y;
    },
  };
}
