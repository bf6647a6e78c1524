import type { Mask } from './mask';

/** Width of the edges, over which a raised cosine leads from nothing to all. */
const EDGE_OCTAVES = 1 / 6;

export const bandMask: Mask = {
  isWanted: ({ band }) => band !== null,
  apply({ isolation, sampleRateHz, spectra: [{ size, bins, count }] }, mask) {
    const { fromHz, toHz } = isolation.band!;
    const gains = Float64Array.from({ length: bins }, (_, k) => {
      const hz = (k * sampleRateHz) / size;
      return rise(Math.log2(hz / fromHz)) * rise(Math.log2(toHz / hz));
    });
    for (let frame = 0; frame < count; frame++) for (let k = 0; k < bins; k++) mask[frame * bins + k] *= gains[k];
  },
};

/** 0 below an edge to 1 above it; a half on it. */
function rise(octaves: number): number {
  const x = Math.max(-0.5, Math.min(0.5, octaves / EDGE_OCTAVES));
  return 0.5 + 0.5 * Math.sin(Math.PI * x);
}
