import { z } from 'zod';
import { type PhraseNote, renderPatch } from '../engine/render';
import type { Patch } from '../patch/schema';
import { type Audio, durationOf } from '../reading/audio';
import { averageSpectrum } from '../reading/spectra/averageSpectrum';

/** Levels of this many neighbouring bands are one point of the picture. */
const BANDS_A_POINT = 2;

export const candidatePictureSchema = z.object({
  centresHz: z.array(z.number()),
  referenceDb: z.array(z.number()),
  patchDb: z.array(z.number()),
});

/** Mean spectra of a cut and of a patch over it, two bands a point, dB under the strongest of the cut. */
export type CandidatePicture = z.infer<typeof candidatePictureSchema>;

/** What a candidate looks like beside the cut, small. The patch is as loud as the cut already. */
export function candidatePicture(patch: Patch, notes: readonly PhraseNote[], cut: Audio): CandidatePicture {
  const { sampleRateHz } = cut;
  const channels = renderPatch({ patch, notes, sampleRateHz, seconds: durationOf(cut) });
  const reference = averageSpectrum(cut);
  const print = averageSpectrum({ channels, sampleRateHz });
  const top = Math.max(...reference.levelsDb);
  const points = (values: readonly number[], join: (...values: number[]) => number) =>
    Array.from({ length: Math.floor(values.length / BANDS_A_POINT) }, (_, i) =>
      join(...values.slice(BANDS_A_POINT * i, BANDS_A_POINT * (i + 1))),
    );
  const levels = (db: readonly number[]) => points(db, (...pair) => Math.round(10 * (Math.max(...pair) - top)) / 10);
  return {
    centresHz: points(reference.centresHz, (...pair) => Math.round(10 * Math.sqrt(pair[0] * pair.at(-1)!)) / 10),
    referenceDb: levels(reference.levelsDb),
    patchDb: levels(print.levelsDb),
  };
}
