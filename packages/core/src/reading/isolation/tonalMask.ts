import { runningMedian } from '../../dsp/runningMedian';
import type { Stft } from '../../dsp/stft';
import type { Mask } from './mask';

/** Over so long a time a tone is steady, and over so wide a band a hit is even: common practice. */
const TIME_SECONDS = 0.25;
const BAND_HZ = 220;

/**
 * Tonal or percussive by median filtering along time and along frequency, the two compared as powers in a
 * soft mask (Fitzgerald 2010, "Harmonic/percussive separation using median filtering").
 */
export const tonalMask: Mask = {
  isWanted: ({ character }) => character !== 'all',
  apply({ isolation: { character }, sampleRateHz, spectra: [stft], levels }, mask) {
    const tonal = steadyLevels(levels, stft, sampleRateHz);
    const { bins, count, size } = stft;
    const hit = new Float32Array(bins);
    const reach = Math.max(1, Math.round(((BAND_HZ / 2) * size) / sampleRateHz));
    for (let frame = 0; frame < count; frame++) {
      const row = frame * bins;
      runningMedian(
        bins,
        reach,
        (k) => levels[row + k],
        (k, median) => (hit[k] = median),
      );
      for (let k = 0; k < bins; k++) {
        const steady = tonal[row + k] ** 2;
        const sudden = hit[k] ** 2;
        const share = steady + sudden > 0 ? steady / (steady + sudden) : 0.5;
        mask[row + k] *= character === 'tonal' ? share : 1 - share;
      }
    }
  },
};

/** Median of every bin over the time around each frame. */
export function steadyLevels(levels: Float32Array, { bins, count, hop }: Stft, sampleRateHz: number): Float32Array {
  const steady = new Float32Array(levels.length);
  const reach = Math.max(2, Math.round((TIME_SECONDS * sampleRateHz) / hop / 2));
  for (let k = 0; k < bins; k++) {
    runningMedian(
      count,
      reach,
      (frame) => levels[frame * bins + k],
      (frame, median) => (steady[frame * bins + k] = median),
    );
  }
  return steady;
}
