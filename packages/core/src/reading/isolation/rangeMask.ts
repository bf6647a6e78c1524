import type { Mask } from './mask';

/** Over which the edges of the range go from all to nothing. */
const EDGE_PAN = 12;

/**
 * What stands between two places of the stereo picture, by the levels that each bin has on both sides
 * (Avendano 2003, "Frequency-domain source identification and manipulation in stereo mixes"; constant-power
 * panning).
 */
export const rangeMask: Mask = {
  isWanted: ({ place }) => place.kind === 'range',
  apply({ isolation: { place }, spectra: [left, right = left] }, mask) {
    if (place.kind !== 'range') return;
    for (let i = 0; i < mask.length; i++) {
      const l = Math.sqrt(left.real[i] ** 2 + left.imaginary[i] ** 2);
      const r = Math.sqrt(right.real[i] ** 2 + right.imaginary[i] ** 2);
      const pan = l + r > 0 ? (400 / Math.PI) * Math.atan2(r, l) - 100 : 0;
      const inside = Math.min(pan - place.fromPan, place.toPan - pan);
      mask[i] *= Math.max(0, Math.min(1, 0.5 + inside / EDGE_PAN));
    }
  },
};
