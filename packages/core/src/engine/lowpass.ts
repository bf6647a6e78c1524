import type { Filter } from '../patch/schema';

/** Two poles of state; a 24 dB filter has two of them, a stereo one as many again. */
export interface LowpassState {
  ic1: number;
  ic2: number;
}

export const createLowpassState = (): LowpassState => ({ ic1: 0, ic2: 0 });

/** Q of the stages of a Butterworth low-pass of 12 and 24 dB per octave: 1/(2cos θ) of its pole angles. */
const BUTTERWORTH_Q = { 12: [Math.SQRT1_2], 24: [0.5411961001461971, 1.3065629648763766] } as const;

/**
 * Damping k = 1/Q of each stage. The resonance multiplies the Q of the last stage, so the gain at the cutoff is
 * `resonanceDb − 3 dB` at either slope.
 */
export function stageDamping(slope: Filter['slopeDbPerOctave'], stage: number, resonanceGain: number): number {
  const qs = BUTTERWORTH_Q[slope];
  return 1 / (stage === qs.length - 1 ? qs[stage] * resonanceGain : qs[stage]);
}

export const stageCount = (slope: Filter['slopeDbPerOctave']) => BUTTERWORTH_Q[slope].length;

/** Prewarped gain of the integrators; the cutoff is kept under the Nyquist frequency. */
export function integratorGain(cutoffHz: number, sampleRateHz: number): number {
  return Math.tan(Math.PI * Math.min(cutoffHz / sampleRateHz, 0.49));
}

/**
 * Runs one two-pole low-pass in place over `buffer[from..to)`: the trapezoidal state-variable filter, which stays
 * stable while its cutoff moves (Zavalishin, The Art of VA Filter Design, 4; Simper, "Linear trapezoidal SVF"). g and k
 * move in a straight line to their new values.
 */
export function runLowpass(
  state: LowpassState,
  buffer: Float64Array,
  from: number,
  to: number,
  g: number,
  gStep: number,
  k: number,
  kStep: number,
): void {
  let { ic1, ic2 } = state;
  if (gStep === 0 && kStep === 0) {
    // A filter at rest needs one division a block instead of one a sample.
    const a1 = 1 / (1 + g * (g + k));
    for (let i = from; i < to; i++) {
      const v1 = (ic1 + g * (buffer[i] - ic2)) * a1;
      const v2 = ic2 + g * v1;
      ic1 = 2 * v1 - ic1;
      ic2 = 2 * v2 - ic2;
      buffer[i] = v2;
    }
    state.ic1 = ic1;
    state.ic2 = ic2;
    return;
  }
  for (let i = from; i < to; i++) {
    const v1 = (ic1 + g * (buffer[i] - ic2)) / (1 + g * (g + k));
    const v2 = ic2 + g * v1;
    ic1 = 2 * v1 - ic1;
    ic2 = 2 * v2 - ic2;
    buffer[i] = v2;
    g += gStep;
    k += kStep;
  }
  state.ic1 = ic1;
  state.ic2 = ic2;
}
