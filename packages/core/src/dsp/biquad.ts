/** Coefficients of H(z) = (b0 + b1·z⁻¹ + b2·z⁻²) / (1 + a1·z⁻¹ + a2·z⁻²). */
export interface BiquadCoefficients {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/** Runs a biquad over `input` into a new array, transposed direct form II, starting from rest. */
export function filterBiquad(input: ArrayLike<number>, { b0, b1, b2, a1, a2 }: BiquadCoefficients): Float64Array {
  const output = new Float64Array(input.length);
  let s1 = 0;
  let s2 = 0;
  for (let i = 0; i < input.length; i++) {
    const x = input[i];
    const y = b0 * x + s1;
    s1 = b1 * x - a1 * y + s2;
    s2 = b2 * x - a2 * y;
    output[i] = y;
  }
  return output;
}

/** A high-pass of 12 dB an octave by the bilinear transform; Q 0.71 is Butterworth's. */
export function highpassBiquad(hz: number, q: number, sampleRateHz: number): BiquadCoefficients {
  const k = Math.tan((Math.PI * hz) / sampleRateHz);
  const a0 = 1 + k / q + k * k;
  return { b0: 1 / a0, b1: -2 / a0, b2: 1 / a0, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}

/** The low-pass that goes with it. */
export function lowpassBiquad(hz: number, q: number, sampleRateHz: number): BiquadCoefficients {
  const k = Math.tan((Math.PI * hz) / sampleRateHz);
  const a0 = 1 + k / q + k * k;
  const b = (k * k) / a0;
  return { b0: b, b1: 2 * b, b2: b, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}
