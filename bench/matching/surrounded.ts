/** Tones under drums, or a chord, 8 dB softer, isolated as is suggested, against those alone. */
import { soundOf } from '../../packages/core/test/made/evidence';
import type { MadeTone } from '../../packages/core/test/made/madeTone';
import {
  MADE_RATE_HZ,
  type Signal,
  createRandom,
  falling,
  hzOf,
  level,
  lengthOf,
  mixed,
  noise,
  shaped,
  sine,
  tone,
  twoPole,
} from '../../packages/core/test/made/parts';
import { madeTones } from '../../packages/core/test/made/tones';
import { createJudge } from '../../packages/core/src/matching/search/judge';
import { matchTone } from '@imprint/core/matching/match';
import { isolatedTone } from '@imprint/core/reading/isolation/isolate';
import { NO_ISOLATION } from '@imprint/core/reading/isolation/settings';
import { suggestIsolation } from '@imprint/core/reading/isolation/suggestIsolation';
import { readTone } from '@imprint/core/reading/read';

const SOFTER_DB = 8;
const RENDERS = 400;
const NAMES = [
  'sine pluck with a pitch drop',
  'filtered saw bass over a sine sub',
  'three saws behind a low-pass',
  'saw over a sine sub',
  'square lead with vibrato',
  'brassy saw with a glide at the start',
  'metal with a high modulator',
  'slow pad of two saws',
];

const powerOf = (signal: Signal) => signal.reduce((sum, x) => sum + x * x, 0) / signal.length;

const surroundings: Readonly<Record<string, (seconds: number, midi: number, seed: number) => Signal>> = {
  drums,
  'a chord': chord,
};

/** Kick, snare and hats at 120 BPM. */
function drums(seconds: number, _midi: number, seed: number): Signal {
  const out = new Float64Array(lengthOf(seconds));
  const random = createRandom(seed);
  const add = (at: number, sound: Signal, gain: number) => {
    const from = lengthOf(at);
    for (let i = 0; i < sound.length && from + i < out.length; i++) out[from + i] += gain * sound[i];
  };
  const drop = falling(150, 48, 0.03);
  const kick = shaped(
    tone({ seconds: 0.3, hz: 48, amplitude: sine, semitones: (t) => 12 * Math.log2(drop(t) / 48) }),
    level({ attack: 0.001, decay: 0.09, sustain: 0 }),
  );
  const burst = (length: number, decay: number) =>
    shaped(noise(length, random), level({ attack: 0.001, decay, sustain: 0 }));
  for (let beat = 0; beat * 0.5 < seconds; beat++) {
    add(beat * 0.5, kick, beat % 2 === 0 ? 1 : 0);
    add(beat * 0.5, burst(0.2, 0.06), beat % 2 === 1 ? 0.5 : 0);
    add(
      beat * 0.5 + 0.25,
      twoPole(burst(0.08, 0.02), 'high', () => 6000, 0.7),
      0.5,
    );
  }
  return out;
}

/** Three soft saws that do not hold the note. */
function chord(seconds: number, midi: number, seed: number): Signal {
  const random = createRandom(seed);
  const saws = mixed(...[4, 9, 16].map((step) => tone({ seconds, hz: hzOf(midi + step), phase: random() })));
  return twoPole(saws, 'low', () => 1800, 0.7);
}

async function compared({ name, channels }: MadeTone, seed: number): Promise<number[]> {
  const clean = soundOf(...channels);
  const alone = await matchTone(clean, { renders: RENDERS, structure: 'plain' });
  const { notes, reading } = alone;
  const own = alone.candidates[0].overallJnd;
  const ratios: number[] = [];
  for (const [title, sound] of Object.entries(surroundings)) {
    const around = sound(channels[0].length / MADE_RATE_HZ, notes[0].midi, seed);
    const gain = Math.sqrt(powerOf(channels[0]) / powerOf(around)) * 10 ** (-SOFTER_DB / 20);
    const together = soundOf(...channels.map((channel) => channel.map((x, i) => x + gain * around[i])));
    // The notes as a person would have corrected them by ear.
    const read = { ...readTone(together), notes: reading.notes };
    const { isolation = NO_ISOLATION } = suggestIsolation(together, read) ?? {};
    const kept = isolatedTone(together, isolation, reading.notes);
    const found = await matchTone(kept.audio, {
      surroundings: kept.surroundings,
      renders: RENDERS,
      structure: 'plain',
    });
    const judge = createJudge([{ audio: clean, reading, notes: found.notes, seed: 1 }], 'full');
    const far = await judge.distance(found.candidates[0].patch);
    console.log(
      `${name.padEnd(40)} alone ${own.toFixed(2).padStart(5)}, from under ${title} ${far.toFixed(2).padStart(5)}`,
    );
    ratios.push(far / own);
  }
  return ratios;
}

export async function surroundedTones(seed: number): Promise<void> {
  const ratios: number[] = [];
  for (const made of madeTones(seed).filter(({ name }) => NAMES.includes(name))) {
    try {
      ratios.push(...(await compared(made, seed)));
    } catch (error) {
      console.log(`${made.name.padEnd(46)} ${(error as Error).message}`);
    }
  }
  ratios.sort((a, b) => a - b);
  console.log(
    `under drums and a chord: ${ratios.map((ratio) => ratio.toFixed(1)).join(', ')} times as far as alone; median ${ratios[Math.floor(ratios.length / 2)].toFixed(1)}`,
  );
}
