const windows = new Map<number, Float64Array>();

/**
 * Periodic Hann window: sums to `length / 2`; a tone on a bin leaks into its two neighbours only. Shared, do
 * not write.
 */
export function hann(length: number): Float64Array {
  let window = windows.get(length);
  if (!window) {
    window = new Float64Array(length);
    for (let i = 0; i < length; i++) window[i] = 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / length);
    windows.set(length, window);
  }
  return window;
}

/** Response of a Hann window against its middle to what turns so many times over its length. */
export function hannResponse(turns: number): number {
  if (Math.abs(turns) < 1e-6) return 1;
  if (Math.abs(Math.abs(turns) - 1) < 1e-6) return 0.5;
  return Math.sin(Math.PI * turns) / (Math.PI * turns) / (1 - turns * turns);
}
