/** Steps of the scale of log frequency, a semitone. */
export const STEPS_PER_SEMITONE = 20;
/** Distances at which a spectrum is laid over itself, in those steps: 5 to 120 cents. */
const LAGS = [1, 2, 3, 4, 6, 8, 12, 16, 24];

/**
 * How wide the lines of a spectrum are: what is left of its agreement with itself at distances of 5 to 120
 * cents. Detuned voices and vibrato widen lines, whatever their phases.
 */
export function blurOf(spectrum: Float64Array): Float64Array {
  let all = 1e-30;
  for (const x of spectrum) all += x * x;
  return Float64Array.from(LAGS, (lag) => {
    let sum = 0;
    for (let i = lag; i < spectrum.length; i++) sum += spectrum[i] * spectrum[i - lag];
    return sum / all;
  });
}
