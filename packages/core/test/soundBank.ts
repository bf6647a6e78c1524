import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import midi from '@tonejs/midi';
import { readWav } from '../src/formats/wav';
import type { Audio } from '../src/reading/audio';
import type { TrueNote } from './lines';
import { createRandom } from './signals';

/**
 * Tones and lines of the open sound bank in Debian's package `timgm6mb-soundfont`, played by Debian's
 * `fluidsynth`: recorded instruments, whose notes are known from the MIDI file that they are played from.
 */
const BANK = '/usr/share/sounds/sf2/TimGM6mb.sf2';
const RATE_HZ = 44100;
const DRUM_CHANNEL = 9;

/** A program of the bank (General MIDI, counted from 0), and the lowest note that it is played at. */
export interface Program {
  name: string;
  role: 'bass' | 'lead' | 'pad' | 'pluck';
  number: number;
  lowMidi: number;
}

const program = (role: Program['role'], number: number, lowMidi: number, name: string): Program => ({
  role,
  number,
  lowMidi,
  name,
});

export const programs: readonly Program[] = [
  program('bass', 32, 28, 'acoustic bass'),
  program('bass', 33, 28, 'finger bass'),
  program('bass', 34, 28, 'picked bass'),
  program('bass', 35, 28, 'fretless bass'),
  program('bass', 36, 28, 'slapped bass'),
  program('bass', 38, 28, 'synth bass 1'),
  program('bass', 39, 28, 'synth bass 2'),
  program('lead', 80, 55, 'square lead'),
  program('lead', 81, 55, 'saw lead'),
  program('lead', 62, 50, 'synth brass'),
  program('lead', 16, 48, 'drawbar organ'),
  program('lead', 22, 60, 'harmonica'),
  program('lead', 73, 67, 'flute'),
  program('pad', 48, 48, 'strings'),
  program('pad', 50, 48, 'synth strings'),
  program('pad', 89, 48, 'warm pad'),
  program('pad', 19, 48, 'church organ'),
  program('pluck', 24, 45, 'nylon guitar'),
  program('pluck', 46, 48, 'harp'),
  program('pluck', 11, 60, 'vibraphone'),
  program('pluck', 12, 60, 'marimba'),
  program('pluck', 4, 45, 'electric piano'),
];

export interface BankNote extends TrueNote {
  /** 0..1. */
  velocity: number;
}

/** What a drum channel plays: numbers of General MIDI's percussion. */
export type Hit = BankNote;

/**
 * Plays notes and hits by the bank, in stereo at 44.1 kHz.
 *
 * @param room the player's own small room, which is off if not asked for
 */
export function playBank(
  { number }: Program,
  notes: readonly BankNote[],
  hits: readonly Hit[] = [],
  { room = false }: { room?: boolean } = {},
): Audio {
  const file = new midi.Midi();
  const played = file.addTrack();
  played.channel = 0;
  played.instrument.number = number;
  notes.forEach(({ midi: pitch, onsetSeconds, durationSeconds, velocity }) =>
    played.addNote({ midi: pitch, time: onsetSeconds, duration: durationSeconds, velocity }),
  );
  if (hits.length > 0) {
    const drums = file.addTrack();
    drums.channel = DRUM_CHANNEL;
    hits.forEach(({ midi: pitch, onsetSeconds, durationSeconds, velocity }) =>
      drums.addNote({ midi: pitch, time: onsetSeconds, duration: durationSeconds, velocity }),
    );
  }
  const folder = mkdtempSync(join(tmpdir(), 'imprint-bank-'));
  try {
    const [from, to] = [join(folder, 'played.mid'), join(folder, 'played.wav')];
    writeFileSync(from, file.toArray());
    const words = ['-ni', '-q', '-g', '0.5', '-r', String(RATE_HZ), '-R', room ? '1' : '0', '-C', '0', '-T', 'wav'];
    execFileSync('fluidsynth', [...words, '-F', to, BANK, from], { stdio: ['ignore', 'ignore', 'ignore'] });
    return readWav(readFileSync(to));
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

const MINOR = [0, 2, 3, 5, 7, 8, 10];

export interface BankLine {
  program: Program;
  bpm: number;
  notes: BankNote[];
  hits: Hit[];
}

/**
 * A line as they are played: notes that repeat for half a bar or a whole one, eighths or sixteenths, held for
 * 55 to 95 % of the step, some louder than others; and drums to it.
 */
export function repeatingLine(chosen: Program, seed: number, seconds = 8): BankLine {
  const random = createRandom(seed);
  const pick = <T>(values: readonly T[]) => values[Math.floor(random() * values.length)];
  const bpm = Math.round(90 + 85 * random());
  // Sixteenths of slow pads and strings run into one another.
  const division = chosen.role === 'pad' ? 2 : pick([2, 2, 4]);
  const step = 60 / bpm / division;
  const held = 0.55 + 0.4 * random();
  const notes: BankNote[] = [];
  let pitch = chosen.lowMidi + pick(MINOR);
  for (let i = 0; 0.2 + i * step < seconds - step; i++) {
    if (i % (2 * division) === 0 && random() < 0.6) pitch = chosen.lowMidi + pick(MINOR) + pick([0, 0, 12]);
    // Rests make the next note a new start.
    if (random() < 0.08) continue;
    const accent = i % division === 0 ? 0.1 : 0;
    notes.push({
      midi: pitch,
      onsetSeconds: 0.2 + i * step,
      durationSeconds: held * step,
      velocity: 0.65 + accent + 0.2 * random(),
    });
  }
  const hits: Hit[] = [];
  for (let i = 0; 0.2 + (i * 60) / bpm / 2 < seconds - 0.5; i++) {
    const at = { onsetSeconds: 0.2 + (i * 60) / bpm / 2, durationSeconds: 0.1 };
    hits.push({ ...at, midi: 42, velocity: 0.6 });
    if (i % 4 === 0) hits.push({ ...at, midi: 36, velocity: 0.9 });
    if (i % 4 === 2) hits.push({ ...at, midi: 38, velocity: 0.8 });
  }
  return { program: chosen, bpm, notes, hits };
}

/** Plays a line, with its drums so many decibels over or under it; without, alone. */
export function playLine({ program: chosen, notes, hits }: BankLine, drumsDb?: number): Audio {
  const line = playBank(chosen, notes);
  if (drumsDb === undefined) return line;
  const drums = playBank(chosen, [], hits);
  const length = Math.max(line.channels[0].length, drums.channels[0].length);
  const gain = (rmsOf(line) / rmsOf(drums)) * 10 ** (drumsDb / 20);
  return {
    ...line,
    channels: line.channels.map((channel, c) => {
      const sum = new Float32Array(length);
      sum.set(channel);
      drums.channels[c].forEach((x, i) => (sum[i] += gain * x));
      return sum;
    }),
  };
}

const rmsOf = ({ channels }: Audio) => Math.sqrt(channels[0].reduce((sum, x) => sum + x * x, 0) / channels[0].length);
