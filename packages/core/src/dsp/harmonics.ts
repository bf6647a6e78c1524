import { kernel, kernelNumbers } from './kernel/kernel';
import { hann } from './windows';

const MOST_TURNED = kernel.MOST_TURNED.value;
const MOST_MULTIPLES = kernel.MOST_MULTIPLES.value;
const turned = kernelNumbers('turned', MOST_TURNED + 4);
const cosines = kernelNumbers('cosines', MOST_TURNED);
const sines = kernelNumbers('sines', MOST_TURNED);
const sums = kernelNumbers('sums', 4 * MOST_MULTIPLES);

/** Cosine and sine of a phase at every sample, from which its multiples follow. */
export interface Phase {
  cosines: Float64Array;
  sines: Float64Array;
}

/** So many samples are turned on from one that is exact. */
const EXACT_EVERY = 64;

/** The phase of a steady frequency, 0 at the first sample. */
export function steadyPhase(radiansPerSample: number, length: number): Phase {
  const phase = { cosines: new Float64Array(length), sines: new Float64Array(length) };
  const turnCosine = Math.cos(radiansPerSample);
  const turnSine = Math.sin(radiansPerSample);
  for (let start = 0; start < length; start += EXACT_EVERY) {
    let cosine = Math.cos(radiansPerSample * start);
    let sine = Math.sin(radiansPerSample * start);
    for (let i = start; i < Math.min(length, start + EXACT_EVERY); i++) {
      phase.cosines[i] = cosine;
      phase.sines[i] = sine;
      const next = cosine * turnCosine - sine * turnSine;
      sine = sine * turnCosine + cosine * turnSine;
      cosine = next;
    }
  }
  return phase;
}

/**
 * What a signal has of the multiples of a phase: Σ w[i]·x[start + i]·e^(−j·n·φ[from + i]), in the kernel.
 *
 * @param out real and imaginary part of each multiple, n = 1 first, as many as it has room for
 */
export function turnDown(
  signal: Float64Array,
  start: number,
  window: Float64Array,
  phase: Phase,
  from: number,
  out: Float64Array,
): void {
  const multiples = out.length / 2;
  if (multiples > MOST_MULTIPLES) throw new RangeError(`At most ${MOST_MULTIPLES} multiples, not ${multiples}.`);
  sums.fill(0, 0, 4 * multiples);
  for (let done = 0; done < window.length; done += MOST_TURNED) {
    const count = Math.min(MOST_TURNED, window.length - done);
    for (let i = 0; i < count; i++) turned[i] = signal[start + done + i] * window[done + i];
    turned.fill(0, count, count + 4);
    cosines.set(phase.cosines.subarray(from + done, from + done + count));
    sines.set(phase.sines.subarray(from + done, from + done + count));
    kernel.addMultiples(count, multiples);
  }
  for (let n = 0; n < multiples; n++) {
    out[2 * n] = sums[4 * n] + sums[4 * n + 1];
    out[2 * n + 1] = -sums[4 * n + 2] - sums[4 * n + 3];
  }
}

/** Magnitudes of the partials of a steady pitch over samples from `start` on, under a Hann window. */
export function partialMagnitudes(
  signal: Float64Array,
  start: number,
  length: number,
  radiansPerSample: number,
  count: number,
): number[] {
  const sums = new Float64Array(2 * count);
  turnDown(signal, start, hann(length), steadyPhase(radiansPerSample, length), 0, sums);
  return Array.from({ length: count }, (_, n) => Math.hypot(sums[2 * n], sums[2 * n + 1]));
}
