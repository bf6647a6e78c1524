import { midiFromHz } from '../../dsp/pitch';
import type { PitchTrack } from '../pitch/pitchTrack';
import { CLEAR, END_SECONDS, type LineSound, type Stretch, isMultiple, pitchOf } from './stretchPitch';

/** A pitch that changes without an onset has to be there for so long. */
const SLURRED_SECONDS = 0.05;
const SLUR_START_SECONDS = 0.045;
const SLURRED_SEMITONES = 0.7;
/** What stays under this share of the loudest is no note. */
export const LEAST_SHARE = 0.06;
export const MIN_SECONDS = 0.045;

/** The stretches between starts, each with its pitch; those of slurred notes are parted where it changes. */
export function stretchesOf(sound: LineSound, end: number): Stretch[] {
  const begins = firstSound(sound);
  // A cut may begin while a note sounds.
  const onsets = sound.onsets.some((at) => at < begins + MIN_SECONDS) ? sound.onsets : [begins, ...sound.onsets];
  return onsets.flatMap((from, i) => {
    const to = onsets[i + 1] ?? end;
    const parts = slursWithin(sound.track, from, to);
    return parts.map((start, k) => {
      const stop = parts[k + 1] ?? to;
      return { from: start, to: stop, midi: pitchOf(sound, start, stop) };
    });
  });
}

function firstSound({ track }: LineSound): number {
  const loudest = track.rms.reduce((a, b) => Math.max(a, b), 0);
  const frame = track.rms.findIndex((rms) => rms > LEAST_SHARE * loudest);
  // Frames are known by their middle.
  return Math.max(0, track.seconds[Math.max(0, frame)] - (track.seconds[0] ?? 0));
}

/** Where a stretch and its slurred notes begin. */
function slursWithin({ seconds, f0Hz, clarity }: PitchTrack, from: number, to: number): number[] {
  const starts = [from];
  let current = NaN;
  let candidate = NaN;
  let since = 0;
  for (let i = 0; i < seconds.length; i++) {
    // Frames that see the note before are between the two.
    if (seconds[i] < from + SLUR_START_SECONDS || seconds[i] > to - END_SECONDS || !(clarity[i] > CLEAR)) continue;
    const pitch = midiFromHz(f0Hz[i]);
    if (Number.isNaN(current)) current = pitch;
    if (Math.abs(pitch - current) < SLURRED_SEMITONES) candidate = NaN;
    else if (Math.abs(pitch - candidate) < SLURRED_SEMITONES) {
      if (seconds[i] - since < SLURRED_SECONDS || isMultiple(pitch, current)) continue;
      starts.push(since);
      current = pitch;
      candidate = NaN;
    } else {
      candidate = pitch;
      since = seconds[i];
    }
  }
  return starts;
}
