/** Equal temperament, A4 = MIDI note 69 = 440 Hz (MIDI 1.0). */
export function hzFromMidi(midi: number): number {
  return 440 * 2 ** ((midi - 69) / 12);
}

/** MIDI note number, with its fraction, of a frequency in Hz. */
export function midiFromHz(hz: number): number {
  return 69 + 12 * Math.log2(hz / 440);
}

/** Distance from `fromHz` up to `toHz` in cents. */
export function centsBetween(fromHz: number, toHz: number): number {
  return 1200 * Math.log2(toHz / fromHz);
}

export function ratioFromSemitones(semitones: number): number {
  return 2 ** (semitones / 12);
}

const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];

/** Name of the nearest note, MIDI 60 = C4: `A2`, `F♯3`. */
export function noteName(midi: number): string {
  const nearest = Math.round(midi);
  return `${NAMES[((nearest % 12) + 12) % 12]}${Math.floor(nearest / 12) - 1}`;
}

/** Note number of a name such as `A2`, `F#3`, `Bb1`; undefined when it is none. */
export function noteNumber(name: string): number | undefined {
  const match = /^([a-g])([#♯b♭]?)(-?\d+)$/i.exec(name.trim());
  if (!match) return undefined;
  const step = NAMES.indexOf(match[1].toUpperCase());
  const accidental = match[2] === '' ? 0 : '#♯'.includes(match[2]) ? 1 : -1;
  return step + accidental + 12 * (Number(match[3]) + 1);
}
