import { MAX_PARTIALS, sourceSchema } from '../../patch/schemas/sourceSchema';
import { soundingSpan } from '../../reading/level/fittedContour';
import { averageLevelsDb } from '../../reading/partials/averageLevels';
import { halfLatticeLevels } from '../../reading/partials/halfLattice';
import type { Measurement } from '../../reading/read';
import type { Evidence, Hypothesis } from './hypothesis';
import { offsetCents } from './sources';
import { onsetOf } from './startPhases';

/** Where plain waveforms leave more of the partials unexplained, their levels are drawn. */
const UNPLAIN_DB = 1.5;
/** Softer partials, and more of them, are left out. High ones are heard far down: nothing covers them. */
const LEAST_DB = -66;
const MOST_PARTIALS = 32;
const SILENT_DB = -96;

/**
 * The levels of the partials as they were measured, as drawbars or an additive source have them; from the
 * lowest stop on, which may sound under the note that is named.
 */
export function explainDrawnPartials(evidence: Evidence): Hypothesis[] {
  const { note, midi } = evidence;
  const { sources, pitch } = note.reading.traits;
  const { measured, times } = fromLowest(note);
  const softest = Math.max(LEAST_DB, measured.toSorted((a, b) => b - a)[MOST_PARTIALS - 1] ?? LEAST_DB);
  const heard = measured.slice(0, MAX_PARTIALS).map((level) => (level < softest ? SILENT_DB : level));
  const count = heard.findLastIndex((level) => level > SILENT_DB) + 1;
  if (count < 2 || (sources.errorDb !== null && sources.errorDb < UNPLAIN_DB)) return [];
  const levelsDb = heard.slice(0, count).map((level) => Math.min(0, Math.round(10 * level) / 10));
  const semitones = -Math.round(12 * Math.log2(times));
  const cents = Math.round(10 * (offsetCents(pitch, midi) - 1200 * Math.log2(times) - 100 * semitones)) / 10;
  const phasesCycles = phasesOf(semitones, count, evidence);
  return [
    {
      name: 'drawn partials',
      stage: 'sources',
      confidence: 0.6,
      why: `no plain waveforms add up to the partials; the levels of ${levelsDb.filter((level) => level > SILENT_DB).length} are set one by one`,
      apply: (layer) => {
        const fields = { kind: 'partials', id: 'source-1', name: 'drawn partials', levelsDb, phasesCycles };
        layer.sources.push(sourceSchema.parse({ ...fields, semitones, cents }));
      },
      freedoms: [],
      brings: [],
    },
  ];
}

/** Where the partials of a low source begin, as sines; of others, as they do anyway. */
const phasesOf = (semitones: number, count: number, evidence: Evidence) =>
  onsetOf(semitones, count, evidence)?.cycles.map((cycles) => {
    const hundredths = Math.round(100 * (cycles + 0.25));
    return (((hundredths % 100) + 100) % 100) / 100;
  }) ?? [];

/** Levels of the partials of the lowest stop, dB, and how often it goes into the pitch that is named. */
function fromLowest({ mono, fundamental, partials, fitted, reading }: Measurement) {
  const { pitch, ring, partials: named } = reading.traits;
  const own = { measured: named.levelsDb, times: 1 };
  if (!fundamental || !partials || pitch.f0Hz === null || ring.rateHz !== null) return own;
  const times = Math.round(pitch.f0Hz / fundamental.f0Hz);
  const span = soundingSpan(fitted, reading.durationSeconds);
  const half = halfLatticeLevels(mono, reading.sampleRateHz, fundamental.f0Hz, span);
  if (half) return { measured: half, times: 2 * Math.max(1, times) };
  return times > 1 ? { measured: averageLevelsDb(partials, fitted), times } : own;
}
