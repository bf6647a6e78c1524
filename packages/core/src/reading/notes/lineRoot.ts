import { partialMagnitudes } from '../../dsp/harmonics';
import { hzFromMidi } from '../../dsp/pitch';
import { isLowerStop } from '../partials/root';
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

/**
 * How many semitones over the notes that were told a line is, as a musician would name it: one sound plays
 * it, so that the median of what its notes' partials are tells whether an organ's lower stop stands under it.
 */
export function lineRoot(mono: Float64Array, sampleRateHz: number, notes: readonly TrackedNote[]): 0 | 12 {
  const rows = notes.flatMap(({ midi, onsetSeconds, endSeconds }) => {
    const hz = hzFromMidi(midi);
    const from = Math.round((onsetSeconds + SKIPPED_SECONDS) * sampleRateHz);
    const seconds = Math.min(LOOKED_SECONDS, endSeconds - onsetSeconds - SKIPPED_SECONDS);
    const count = Math.min(PARTIALS, Math.floor((0.45 * sampleRateHz) / hz));
    if (seconds * hz < LEAST_PERIODS || count < PARTIALS) return [];
    const length = Math.min(mono.length - from, Math.round(seconds * sampleRateHz));
    const levels = partialMagnitudes(mono, from, length, (2 * Math.PI * hz) / sampleRateHz, count);
    const top = Math.max(...levels);
    return [levels.map((level) => Math.max(FLOOR_DB, 20 * Math.log10(level / top + 1e-9)))];
  });
  if (rows.length < LEAST_NOTES) return 0;
  const levelsDb = rows[0].map((_, n) => median(rows.map((row) => row[n])));
  // A bass whose upper octave is the louder one is still played at the lower.
  return isLowerStop(levelsDb) ? OCTAVE : 0;
}
