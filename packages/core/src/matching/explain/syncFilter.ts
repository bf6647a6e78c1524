import { filterSchema } from '../../patch/schemas/shapingSchema';
import { type PartialFrames, frameAmplitudes } from '../../reading/partials/partialFrames';
import { type Slope, lowpassAttenuationDb } from '../../reading/spectra/filterTrack';
import { median } from '../../reading/statistics';
import { type Hypothesis, freedoms, short } from './hypothesis';
import type { Followed } from './spectrumTable';

/** Frames that are looked at, of all. */
const FRAMES = 24;
/** Partials softer than this against the strongest say nothing, as they were made or as they are heard. */
const FLOOR_DB = -60;
/** A partial is looked at where so many frames have it. */
const FEWEST = 6;
const SLOPES: readonly Slope[] = [12, 24];
const CUTOFFS_HZ = Array.from({ length: 90 }, (_, i) => 300 * 2 ** (i / 15));
/** A filter leaves so much less of the levels than none. */
const GAINED_SHARE = 0.6;
/** What is taken away from the highest partial, at the least. */
const LEAST_DB = 3;

/**
 * A low-pass that stands behind a synced saw: what its partials, over all moments, lack against those that
 * it makes, by least squares over cutoffs and slopes. Empty where a level alone says as much.
 *
 * @param madeAt amplitudes of the partials that are made at a place of the path
 */
export function explainSyncFilter(
  partials: PartialFrames,
  { frames, path }: Followed,
  madeAt: (place: number, count: number) => Float64Array,
): Hypothesis[] {
  const every = Math.max(1, Math.floor(frames.length / FRAMES));
  const lacking: number[][] = Array.from({ length: partials.count }, () => []);
  for (let i = 0; i < frames.length; i += every) {
    const made = decibelsUnderTop(madeAt(path[i], partials.count));
    const heard = decibelsUnderTop(frameAmplitudes(partials, frames[i]));
    lacking.forEach((own, k) => {
      if (made[k] > FLOOR_DB && heard[k] > FLOOR_DB) own.push(made[k] - heard[k]);
    });
  }
  const points = lacking.flatMap((own, k) =>
    own.length < FEWEST ? [] : [{ hz: (k + 1) * partials.f0Hz, db: median(own) }],
  );
  if (points.length < FEWEST) return [];
  /** What is left of the points under a filter, the level being free. */
  const leftOf = (attenuationDb: (hz: number) => number) => {
    const off = points.map(({ hz, db }) => db - attenuationDb(hz));
    const mean = off.reduce((a, b) => a + b, 0) / off.length;
    return Math.sqrt(off.reduce((sum, db) => sum + (db - mean) ** 2, 0) / off.length);
  };
  const tried = SLOPES.flatMap((slope) =>
    CUTOFFS_HZ.map((cutoffHz) => ({
      slope,
      cutoffHz,
      left: leftOf((hz) => lowpassAttenuationDb(slope, hz / cutoffHz)),
    })),
  );
  const { slope, cutoffHz, left } = tried.reduce((a, b) => (b.left < a.left ? b : a));
  const highest = points[points.length - 1].hz;
  if (left > GAINED_SHARE * leftOf(() => 0) || lowpassAttenuationDb(slope, highest / cutoffHz) < LEAST_DB) return [];
  return [
    {
      name: 'low-pass',
      stage: 'filter',
      confidence: 0.7,
      why: `partials lack more than a synced saw makes over ${short(cutoffHz)} Hz, by ${slope} dB an octave`,
      apply: (layer) => {
        layer.filters[0] = filterSchema.parse({
          kind: 'lowpass',
          id: 'filter-1',
          cutoffHz: Math.round(cutoffHz),
          slopeDbPerOctave: slope,
        });
      },
      freedoms: freedoms('filter-1', 'filter', { cutoffHz: 0.04, resonanceDb: 0.04 }),
      brings: ['filter-1'],
    },
  ];
}

function decibelsUnderTop(amplitudes: ArrayLike<number>): number[] {
  const levels = Array.from(amplitudes, (amplitude) => 20 * Math.log10(Math.abs(amplitude) + 1e-12));
  const top = Math.max(...levels);
  return levels.map((level) => level - top);
}
