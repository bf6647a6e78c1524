import { createRandom } from './signals';

/** Lines and chords by formula, with the notes that they are made of. Nothing here uses the engine. */
export interface Line {
  name: string;
  seed: number;
  bpm: number;
  /** Lowest note, and how many semitones it spans. */
  lowMidi: number;
  span: number;
  /** Notes that sound together. */
  voices: number;
  /** Beats from onset to onset, chosen among. */
  beats: readonly number[];
  /** Share of the time to the next onset that a note is held. */
  held: number;
  /** Amplitude of partial n. */
  amplitude: (n: number) => number;
  /** Seconds. */
  attack: number;
  /** Time constant of the fall while held, seconds; infinite for none. */
  decay: number;
  release: number;
  /** Level of the hits against the line's, dB; none without. */
  drumsDb?: number;
  seconds?: number;
}

export interface TrueNote {
  onsetSeconds: number;
  durationSeconds: number;
  midi: number;
}

export const LINE_RATE_HZ = 44100;
const MINOR = [0, 2, 3, 5, 7, 8, 10];

export function renderLine(line: Line): { audio: Float32Array; notes: TrueNote[] } {
  const { seed, bpm, lowMidi, span, voices, beats, held, seconds = 8, drumsDb } = line;
  const random = createRandom(seed);
  const out = new Float32Array(Math.round(seconds * LINE_RATE_HZ));
  const notes: TrueNote[] = [];
  const pick = <T>(values: readonly T[]) => values[Math.floor(random() * values.length)];
  let before = -1;
  for (let at = 0.25; ;) {
    const length = (pick(beats) * 60) / bpm;
    if (at + length > seconds - 0.1) break;
    const scale = MINOR.flatMap((step) => [step, step + 12, step + 24]).filter((step) => step <= span);
    const chord = new Set<number>();
    while (chord.size < voices) {
      const midi = lowMidi + pick(scale);
      // Of one voice every other note differs; seconds and octaves within a chord are rare in pads and are
      // left out.
      const near = [...chord].some((other) => Math.abs(other - midi) < 3 || (other - midi) % 12 === 0);
      if (!near && (voices > 1 || midi !== before || random() < 0.2)) chord.add(midi);
    }
    for (const midi of chord) {
      before = midi;
      notes.push({ onsetSeconds: at, durationSeconds: held * length, midi });
      addTone(out, line, at, held * length, midi, (0.6 + 0.4 * random()) / Math.sqrt(voices), random);
    }
    at += length;
  }
  if (drumsDb !== undefined) addDrums(out, bpm, drumsDb, random);
  return { audio: out, notes };
}

function addTone(
  out: Float32Array,
  { amplitude, attack, decay, release }: Line,
  at: number,
  length: number,
  midi: number,
  level: number,
  random: () => number,
): void {
  const f0 = 440 * 2 ** ((midi - 69) / 12);
  const from = Math.round(at * LINE_RATE_HZ);
  const count = Math.min(out.length - from, Math.round((length + 3 * release) * LINE_RATE_HZ));
  const envelope = Float64Array.from({ length: Math.max(0, count) }, (_, i) => {
    const t = i / LINE_RATE_HZ;
    const fall = Math.exp(-t / decay) * (t > length ? Math.exp(-(t - length) / release) : 1);
    return Math.min(1, t / attack) * fall;
  });
  for (let n = 1; n * f0 < 16000 && n <= 40; n++) {
    const a = 0.2 * level * amplitude(n);
    if (a === 0) continue;
    const omega = (2 * Math.PI * n * f0) / LINE_RATE_HZ;
    const phase = 2 * Math.PI * random();
    // The sine by its recurrence, as in `harmonicTone`.
    const twice = 2 * Math.cos(omega);
    let before = a * Math.sin(phase - omega);
    let now = a * Math.sin(phase);
    for (let i = 0; i < count; i++) {
      out[from + i] += envelope[i] * now;
      [before, now] = [now, twice * now - before];
    }
  }
}

/** Kick, snare and hat on their usual places: a falling sine, noise, and short high noise. */
function addDrums(out: Float32Array, bpm: number, levelDb: number, random: () => number): void {
  const level = Math.sqrt(out.reduce((sum, x) => sum + x * x, 0) / out.length) * 10 ** (levelDb / 20);
  const drums = new Float32Array(out.length);
  const beat = (60 / bpm) * LINE_RATE_HZ;
  for (let half = 0; half * 0.5 * beat < out.length; half++) {
    const from = Math.round(half * 0.5 * beat);
    const kick = half % 4 === 0;
    const snare = half % 4 === 2;
    let phase = 0;
    let previous = 0;
    for (let i = 0; i < 0.25 * LINE_RATE_HZ && from + i < out.length; i++) {
      const t = i / LINE_RATE_HZ;
      const noise = 2 * random() - 1;
      if (kick) {
        phase += (2 * Math.PI * (48 + 120 * Math.exp(-t / 0.025))) / LINE_RATE_HZ;
        drums[from + i] += Math.sin(phase) * Math.exp(-t / 0.09);
      }
      if (snare) drums[from + i] += 0.6 * noise * Math.exp(-t / 0.05);
      drums[from + i] += 0.25 * (noise - previous) * Math.exp(-t / 0.015);
      previous = noise;
    }
  }
  const scale = level / Math.sqrt(drums.reduce((sum, x) => sum + x * x, 0) / drums.length);
  drums.forEach((x, i) => (out[i] += scale * x));
}

const saw = (n: number) => 1 / n;
const square = (n: number) => (n % 2 ? 1 / n : 0);
const dull = (n: number) => 1 / n ** 2;
const two = (n: number) => (n === 1 ? 1 : n === 2 ? 0.3 : 0);

const base = { bpm: 112, held: 0.85, attack: 0.005, decay: Infinity, release: 0.03, voices: 1, beats: [0.5, 1] };

/** Lines of every role, alone. */
export const lines: readonly Line[] = [
  { ...base, name: 'saw bass', seed: 1, lowMidi: 33, span: 12, amplitude: saw },
  { ...base, name: 'sine bass', seed: 2, lowMidi: 36, span: 12, amplitude: two, held: 0.7 },
  { ...base, name: 'square bass, sixteenths', seed: 3, lowMidi: 36, span: 12, amplitude: square, beats: [0.25, 0.5] },
  { ...base, name: 'plucked line', seed: 4, lowMidi: 55, span: 19, amplitude: saw, decay: 0.12, held: 0.9 },
  {
    ...base,
    name: 'dull plucks, sixteenths',
    seed: 5,
    lowMidi: 60,
    span: 19,
    amplitude: dull,
    decay: 0.1,
    beats: [0.25],
  },
  { ...base, name: 'saw lead, legato', seed: 6, lowMidi: 64, span: 19, amplitude: saw, held: 1 },
  { ...base, name: 'square lead, long release', seed: 7, lowMidi: 60, span: 14, amplitude: square, release: 0.12 },
  { ...base, name: 'soft lead', seed: 8, lowMidi: 67, span: 12, amplitude: dull, attack: 0.03 },
  { ...base, name: 'fast bass', seed: 9, bpm: 140, lowMidi: 40, span: 12, amplitude: dull, beats: [0.25, 0.5] },
  { ...base, name: 'high plucks', seed: 10, lowMidi: 76, span: 12, amplitude: two, decay: 0.15 },
];

const pad = { ...base, beats: [2, 4], attack: 0.06, release: 0.12, held: 0.95, seconds: 12 };

export const chords: readonly Line[] = [
  { ...pad, name: 'two-voice saws', seed: 21, voices: 2, lowMidi: 52, span: 20, amplitude: saw },
  { ...pad, name: 'three-voice saws', seed: 22, voices: 3, lowMidi: 50, span: 24, amplitude: saw },
  { ...pad, name: 'three-voice dull', seed: 23, voices: 3, lowMidi: 52, span: 24, amplitude: dull },
  { ...pad, name: 'four-voice saws', seed: 24, voices: 4, lowMidi: 48, span: 26, amplitude: saw },
  { ...pad, name: 'four-voice squares', seed: 25, voices: 4, lowMidi: 50, span: 26, amplitude: square },
  {
    ...pad,
    name: 'three-voice stabs',
    seed: 26,
    voices: 3,
    lowMidi: 55,
    span: 24,
    amplitude: saw,
    beats: [1],
    held: 0.5,
    attack: 0.005,
  },
];

export interface Score {
  precision: number;
  recall: number;
  f: number;
}

const ONSET_SECONDS = 0.05;

/**
 * F-measure of found notes: right when the note number is and the onset is within 50 ms (as in MIREX note
 * tracking, offsets not counted).
 */
export function scoreNotes(found: readonly TrueNote[], wanted: readonly TrueNote[]): Score {
  const open = new Set(wanted);
  let right = 0;
  for (const note of found) {
    const same = [...open].find(
      ({ midi, onsetSeconds }) => midi === note.midi && Math.abs(onsetSeconds - note.onsetSeconds) <= ONSET_SECONDS,
    );
    if (!same) continue;
    open.delete(same);
    right++;
  }
  const precision = found.length ? right / found.length : 0;
  const recall = right / wanted.length;
  return { precision, recall, f: right ? (2 * precision * recall) / (precision + recall) : 0 };
}
