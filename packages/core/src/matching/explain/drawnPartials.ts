import { MAX_PARTIALS, sourceSchema } from '../../patch/schemas/sourceSchema';
import { soundingSpan } from '../../reading/level/fittedContour';
import { halfLatticeLevels } from '../../reading/partials/halfLattice';
import type { Evidence, Hypothesis } from './hypothesis';
import { offsetCents } from './sources';

/** Where plain waveforms leave more of the partials unexplained, their levels are drawn. */
const UNPLAIN_DB = 2;
/** Softer partials, and more of them, are left out: nobody sets them by hand. */
const LEAST_DB = -48;
const MOST_PARTIALS = 24;
const SILENT_DB = -96;

/**
 * The levels of the partials as they were measured, as drawbars or an additive source have them; from an
 * octave lower on where a stop sounds there.
 */
export function explainDrawnPartials({ note, midi }: Evidence): Hypothesis[] {
  const { partials, sources, pitch } = note.reading.traits;
  const below =
    note.fundamental &&
    halfLatticeLevels(
      note.mono,
      note.reading.sampleRateHz,
      note.fundamental.f0Hz,
      soundingSpan(note.fitted, note.reading.durationSeconds),
    );
  const measured = below ?? partials.levelsDb;
  const softest = Math.max(LEAST_DB, measured.toSorted((a, b) => b - a)[MOST_PARTIALS - 1] ?? LEAST_DB);
  const heard = measured.slice(0, MAX_PARTIALS).map((level) => (level < softest ? SILENT_DB : level));
  const count = heard.findLastIndex((level) => level > SILENT_DB) + 1;
  if (count < 2 || (sources.errorDb !== null && sources.errorDb < UNPLAIN_DB)) return [];
  const levelsDb = heard.slice(0, count).map((level) => Math.min(0, Math.round(10 * level) / 10));
  const cents = Math.round(10 * offsetCents(pitch, midi)) / 10;
  return [
    {
      name: 'drawn partials',
      stage: 'sources',
      confidence: 0.6,
      why: `no plain waveforms add up to the partials; the levels of ${levelsDb.filter((level) => level > SILENT_DB).length} are set one by one`,
      apply: (layer) => {
        const fields = {
          kind: 'partials',
          id: 'source-1',
          name: 'drawn partials',
          levelsDb,
          semitones: below ? -12 : 0,
          cents,
        };
        layer.sources.push(sourceSchema.parse(fields));
      },
      freedoms: [],
      brings: [],
    },
  ];
}
