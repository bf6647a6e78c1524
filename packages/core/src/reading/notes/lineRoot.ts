import { partialMagnitudes } from '../../dsp/harmonics';
import { hzFromMidi } from '../../dsp/pitch';
import { isLowerStop, isUnderItsOctave } from '../partials/root';
import { median } from '../statistics';
import type { TrackedNote } from './noteTracking';

const PARTIALS = 16;
/**
 * From the start of each note, where its attack is over, at most so long, and over so many periods at least.
 */
const SKIPPED_SECONDS = 0.03;
const LOOKED_SECONDS = 0.2;
const LEAST_PERIODS = 4;
const LEAST_NOTES = 3;
const FLOOR_DB = -60;
const OCTAVE = 12;

/** What is told at the pitch that a musician would name has its lower stop under it. */
const STOP_BELOW_DB = -16;

interface Row {
  midi: number;
  /** Of its partials, dB against the strongest. */
  levelsDb: number[];
  /** An octave under it. */
  belowDb: number;
}

/**
 * How many semitones over each note that was told it is, as a musician would name it: an organ's lower stop
 * may stand under it. The median of what the partials of all notes of one pitch are tells, since instruments
 * are recorded pitch by pitch, and not all have their lower stops everywhere.
 */
export function rootsAbove(mono: Float64Array, sampleRateHz: number, notes: readonly TrackedNote[]): number[] {
  const rows = notes.flatMap((one) => rowOf(mono, sampleRateHz, one) ?? []);
  if (rows.length < LEAST_NOTES) return notes.map(() => 0);
  const all = medianOf(rows);
  const above = new Map<number, number>();
  for (const midi of new Set(notes.map((one) => one.midi))) {
    const own = rows.filter((row) => row.midi === midi);
    // Of notes that are too short to be looked at the others tell.
    const { levelsDb, belowDb } = own.length > 0 ? medianOf(own) : all;
    const isLow = belowDb < STOP_BELOW_DB && (isLowerStop(levelsDb) || isUnderItsOctave(levelsDb));
    above.set(midi, isLow ? OCTAVE : 0);
  }
  return notes.map(({ midi }) => above.get(midi)!);
}

const medianOf = (rows: readonly Row[]): Omit<Row, 'midi'> => ({
  levelsDb: rows[0].levelsDb.map((_, n) => median(rows.map(({ levelsDb }) => levelsDb[n]))),
  belowDb: median(rows.map(({ belowDb }) => belowDb)),
});

function rowOf(
  mono: Float64Array,
  sampleRateHz: number,
  { midi, onsetSeconds, endSeconds }: TrackedNote,
): Row | undefined {
  const hz = hzFromMidi(midi);
  const from = Math.round((onsetSeconds + SKIPPED_SECONDS) * sampleRateHz);
  const seconds = Math.min(LOOKED_SECONDS, endSeconds - onsetSeconds - SKIPPED_SECONDS);
  const count = Math.min(PARTIALS, Math.floor((0.45 * sampleRateHz) / hz));
  if ((seconds * hz) / 2 < LEAST_PERIODS || count < PARTIALS) return undefined;
  const length = Math.min(mono.length - from, Math.round(seconds * sampleRateHz));
  const halves = partialMagnitudes(mono, from, length, (Math.PI * hz) / sampleRateHz, 2 * count);
  const levels = halves.filter((_, i) => i % 2 === 1);
  const top = Math.max(...levels);
  const decibels = (level: number) => Math.max(FLOOR_DB, 20 * Math.log10(level / top + 1e-9));
  return { midi, levelsDb: Array.from(levels, decibels), belowDb: decibels(halves[0]) };
}
