import { leastSquares } from '../../dsp/leastSquares';
import { type Model, blurred, compress, limit, placesOf, readContour } from './envelopeModel';
import type { LevelContour } from './levelContour';

/** Places around the rise, at the most. */
const MOST_ONSET_PLACES = 400;
const ONSET_ITERATIONS = 20;
const ONSET_DIFFERENCES = [2e-5, 0.002];
const ONSET_STEP = [0.01, 0.5];

/**
 * Fits the rise alone once more, at every place of the contour around it: which of them the grid of the whole
 * happens to have does not tell then, nor does what comes later.
 */
export function withCloseOnset(model: Model, contour: LevelContour, top: number): Model {
  const { hopSeconds, windowSeconds, rms } = contour;
  const from = Math.max(0, Math.floor((model.onset - windowSeconds) / hopSeconds));
  const to = Math.min(rms.length - 1, Math.ceil((model.onset + model.attack + windowSeconds) / hopSeconds));
  const stride = Math.max(1, Math.ceil((to - from) / MOST_ONSET_PLACES));
  const count = Math.floor((to - from) / stride);
  if (count < 4) return model;
  const places = placesOf(
    Float64Array.from({ length: count }, (_, i) => (from + i * stride) * hopSeconds),
    contour,
  );
  const values = places.seconds.map((at) => compress(readContour(contour, at) / top));
  const told = (point: ArrayLike<number>): Model => ({
    ...model,
    onset: point[0],
    attack: limit(Math.exp(point[1])),
  });
  const { point } = leastSquares(
    (tried: Float64Array, out: Float64Array) => {
      const one = told(tried);
      if (one.onset < -0.02 || one.attack > 2 * model.attack + windowSeconds) return false;
      for (let i = 0; i < count; i++) out[i] = compress(blurred(one, places, i, windowSeconds)) - values[i];
      return true;
    },
    [model.onset, Math.log(model.attack)],
    { count, differences: ONSET_DIFFERENCES, mostStep: ONSET_STEP, mostIterations: ONSET_ITERATIONS },
  );
  return told(point);
}
