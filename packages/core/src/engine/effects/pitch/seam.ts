/** Longest period that two places are aligned by: 30 Hz. */
export const LONGEST_PERIOD_SECONDS = 1 / 30;
/** So much of the past of two places is compared. */
export const COMPARED_SECONDS = 0.03;
/** Rate at which likely places are looked for first, Hz. */
const COARSE_RATE_HZ = 6000;
/** Places that are as good as the best but for this are as good. */
const AS_GOOD = 0.03;
const MOST_CANDIDATES = 4;
/** From here on two places are alike. */
export const ALIKE = 0.9;

/** A place at which a reading head can go on. */
export interface Seam {
  /** Samples from where it is; between samples, too. */
  lag: number;
  /**
   * Normalised correlation of what comes before both places, −1..1; −1 where no place is better than its
   * neighbours.
   */
  likeness: number;
}

/**
 * Finds, in a signal's past, the place that goes on most like another: the largest normalised correlation of
 * what comes before both, first at a low rate, then sample by sample, then between samples by a parabola
 * (seams by correlation: Roucos & Wilgus 1985; Laroche 1998, in Kahrs & Brandenburg, 7.3.2). A tone goes on
 * in its phase, a whole number of periods away.
 */
export function createSeamFinder(sampleRateHz: number, mostLagSeconds: number) {
  const stride = Math.max(1, Math.round(sampleRateHz / COARSE_RATE_HZ));
  const compared = stride * Math.ceil((COMPARED_SECONDS * sampleRateHz) / stride);
  const mostLag = Math.ceil(mostLagSeconds * sampleRateHz);
  /** The past, oldest first. */
  const past = new Float64Array(compared + mostLag + 2 * stride);
  const coarse = new Float64Array(Math.ceil(past.length / stride) + 1);
  const likenesses = new Float64Array(coarse.length);
  const candidates = new Float64Array(MOST_CANDIDATES);
  const seam: Seam = { lag: 0, likeness: 0 };

  /**
   * Correlation of the `count` values before index `one` and before index `other`, as a share of their
   * energies.
   */
  function likeness(signal: Float64Array, one: number, other: number, count: number): number {
    let product = 0;
    let energyOne = 0;
    let energyOther = 0;
    for (let i = 1; i <= count; i++) {
      const a = signal[one - i];
      const b = signal[other - i];
      product += a * b;
      energyOne += a * a;
      energyOther += b * b;
    }
    const energy = energyOne * energyOther;
    return energy > 1e-20 ? product / Math.sqrt(energy) : 0;
  }

  /** Lags in coarse steps that are better than their neighbours, the best first. */
  function lookRoughly(reference: number, direction: 1 | -1, least: number, most: number): number {
    const count = compared / stride;
    const [from, to] = [Math.ceil(least / stride), Math.floor(most / stride)];
    for (let k = from; k <= to; k++) likenesses[k] = likeness(coarse, reference, reference + direction * k, count);
    let found = 0;
    // The ends are no places where it is best, only where it may become better.
    for (let k = from + 1; k < to; k++) {
      const here = likenesses[k];
      if (likenesses[k - 1] > here || likenesses[k + 1] >= here) continue;
      let place = found < MOST_CANDIDATES ? found++ : MOST_CANDIDATES;
      for (; place > 0 && likenesses[candidates[place - 1]] < here; place--) {
        if (place < MOST_CANDIDATES) candidates[place] = candidates[place - 1];
      }
      if (place < MOST_CANDIDATES) candidates[place] = k;
    }
    return found;
  }

  return {
    past,
    /** Samples before a place that are compared, and more that are looked at around a lag. */
    compared,
    margin: stride,
    /**
     * @param reference index in `past` of the place that is left
     * @param direction 1 to look at later places, −1 at earlier ones
     * @param least and
     * @param most distance of the place that is sought, in samples
     * @param wanted distance that is best among those that are as good
     * @param length of what `past` holds
     */
    find(
      reference: number,
      direction: 1 | -1,
      least: number,
      most: number,
      wanted: number,
      length: number,
    ): Readonly<Seam> {
      const parts = Math.floor(length / stride);
      // Parts are counted from the reference, so that it is between two of them.
      const offset = reference % stride;
      for (let p = 0; p < parts; p++) {
        let sum = 0;
        for (let i = 0; i < stride; i++) sum += past[offset + p * stride + i] ?? 0;
        coarse[p] = sum;
      }
      const found = lookRoughly((reference - offset) / stride, direction, least, most);
      seam.lag = wanted;
      seam.likeness = -1;
      for (let c = 0; c < found; c++) {
        const middle = candidates[c] * stride;
        const [from, to] = [Math.max(least, middle - stride), Math.min(most, middle + stride)];
        let best = -1;
        let lag = middle;
        for (let k = from; k <= to; k++) {
          const here = likeness(past, reference, reference + direction * k, compared);
          if (here > best) [best, lag] = [here, k];
        }
        const nearer = Math.abs(lag - wanted) < Math.abs(seam.lag - wanted);
        if (nearer ? best < seam.likeness - AS_GOOD : best < seam.likeness + AS_GOOD) continue;
        const before = likeness(past, reference, reference + direction * (lag - 1), compared);
        const after = likeness(past, reference, reference + direction * (lag + 1), compared);
        const bend = before - 2 * best + after;
        seam.likeness = best;
        seam.lag = bend < 0 ? lag + Math.max(-0.5, Math.min(0.5, (before - after) / (2 * bend))) : lag;
      }
      return seam;
    },
  };
}

export type SeamFinder = ReturnType<typeof createSeamFinder>;
