/**
 * Tones as people make them, by formula, with what is in them: the kinds that the trade names (common
 * practice), with numbers of their own from a seed. Nothing here uses the engine.
 */
import type { Reading } from '../../src/reading/schema';
import {
  type Signal,
  createRandom,
  driven,
  falling,
  fmTone,
  formants,
  hzOf,
  level,
  lengthOf,
  mixed,
  noise,
  peakOf,
  pulse,
  shaped,
  sine,
  spreadOf,
  square,
  tone,
  triangle,
  twoPole,
  voicesOf,
} from './parts';
import { withDelay, withEchoes, withRoom } from '../effects';

/** What a reading can claim of a tone. */
export type Feature =
  'vibrato' | 'slide' | 'voices' | 'noise' | 'room' | 'echo' | 'motion' | 'dirt' | 'fm' | 'ring' | 'formants' | 'stiff';

export interface Fact {
  name: string;
  wanted: unknown;
  found: (reading: Reading) => unknown;
  right: (reading: Reading) => boolean;
  confidence: (reading: Reading) => number;
  /** Only of the tone as it was made: what is done to it hides or changes it. */
  dryOnly?: boolean;
}

export interface MadeTone {
  name: string;
  /** One or two channels. */
  channels: Signal[];
  /** What is in it, or can be said of it without being wrong. */
  has: readonly Feature[];
  facts: readonly Fact[];
}

export interface Dice {
  random: () => number;
  /** Evenly over the logarithm. */
  between: (low: number, high: number) => number;
  whole: (low: number, high: number) => number;
}

export function diceOf(seed: number): Dice {
  const random = createRandom(seed);
  return {
    random,
    between: (low, high) => low * (high / low) ** random(),
    whole: (low, high) => low + Math.floor((high - low + 1) * random()),
  };
}

const within = (found: number | null | undefined, wanted: number, share: number, floor = 0) =>
  typeof found === 'number' && Math.abs(found - wanted) <= Math.max(share * Math.abs(wanted), floor);

const traitFact =
  <T extends Exclude<keyof Reading['traits'], 'motion'>>(trait: T) =>
  (
    name: string,
    wanted: unknown,
    found: (value: Reading['traits'][T]) => unknown,
    right: (value: Reading['traits'][T]) => boolean,
    dryOnly = false,
  ): Fact => ({
    name: `${trait} ${name}`,
    wanted,
    found: ({ traits }) => found(traits[trait]),
    right: ({ traits }) => right(traits[trait]),
    confidence: ({ traits }) => traits[trait].confidence,
    dryOnly,
  });

const pitchFact = traitFact('pitch');
const midi = (wanted: number): Fact =>
  pitchFact(
    'note',
    wanted,
    (p) => p.midi,
    (p) => p.midi === wanted,
  );
const slide = (semitones: number, timeConstant: number, dryOnly = true): Fact =>
  pitchFact(
    'slide',
    `${semitones.toFixed(1)} st in ${(1000 * timeConstant).toFixed(0)} ms`,
    (p) => p.sweep && `${p.sweep.semitones} st in ${1000 * p.sweep.seconds} ms`,
    (p) => within(p.sweep?.semitones, semitones, 0.3, 0.3),
    dryOnly,
  );
const vibrato = (rateHz: number, cents: number): Fact =>
  pitchFact(
    'vibrato',
    `${rateHz.toFixed(2)} Hz, ${cents.toFixed(0)} ct`,
    (p) => p.vibrato && `${p.vibrato.rateHz} Hz, ${p.vibrato.depthCents} ct`,
    (p) => within(p.vibrato?.rateHz, rateHz, 0.04) && within(p.vibrato?.depthCents, cents, 0.3, 3),
  );
const unisonFact = traitFact('unison');
const detune = (cents: number): Fact =>
  unisonFact(
    'detune',
    cents,
    (u) => u.detuneCents,
    (u) => within(u.detuneCents, cents, 0.2, 3),
  );
const voices = (count: number): Fact =>
  unisonFact(
    'voices',
    count > 5 ? 'many' : count,
    (u) => u.voices,
    (u) => (count > 5 ? u.voices === null || u.voices > 4 : u.voices === count),
  );
const noiseFact = traitFact('noise');
const hiss = (db: number): Fact =>
  noiseFact(
    'level',
    db,
    (n) => n.levelDb,
    (n) => within(n.levelDb, db, 0, 3),
    true,
  );
const attackNoise: Fact = noiseFact(
  'at the attack',
  true,
  (n) => n.attackOnly,
  (n) => n.attackOnly === true,
  true,
);
const brightnessFact = traitFact('brightness');
const resonance = (atLeastDb: number): Fact =>
  brightnessFact(
    'resonance',
    `over ${atLeastDb}`,
    (b) => b.resonanceDb,
    (b) => (b.resonanceDb ?? 0) >= atLeastDb,
    true,
  );
const sweep = (from: number, to: number): Fact =>
  brightnessFact(
    'sweep',
    `${from.toFixed(0)} to ${to.toFixed(0)} Hz`,
    (b) => b.sweep && `${b.sweep.fromHz} to ${b.sweep.toHz} Hz`,
    (b) => b.sweep !== null && Math.abs(Math.log2(b.sweep.fromHz / from)) < 0.5 && b.sweep.toHz < b.sweep.fromHz,
    true,
  );
const spaceFact = traitFact('space');
const room = (rt60: number): Fact =>
  spaceFact(
    'room',
    rt60,
    (s) => s.rt60Seconds,
    (s) => within(s.rt60Seconds, rt60, 0.2),
  );
const echo = (seconds: number, feedback: number): Fact =>
  spaceFact(
    'echo',
    `${seconds.toFixed(3)} s, ${feedback.toFixed(2)}`,
    (s) => s.echo && `${s.echo.seconds} s, ${s.echo.feedback}`,
    (s) => within(s.echo?.seconds, seconds, 0.03) && within(s.echo?.feedback, feedback, 0.2, 0.08),
    true,
  );
const dirtFact = traitFact('dirt');
const dirty = (kinds: readonly string[]): Fact =>
  dirtFact(
    'kind',
    kinds.join(' or '),
    (d) => d.kind,
    (d) => d.kind !== null && kinds.includes(d.kind),
    true,
  );
const shapeFact = traitFact('partials');
const shape = (name: string): Fact =>
  shapeFact(
    'shape',
    name,
    (p) => p.nearestShape,
    (p) => p.nearestShape === name,
    true,
  );
const motionFact = (cause: string, rateHz: number): Fact => ({
  name: 'motion',
  wanted: `${cause} at ${rateHz.toFixed(2)} Hz`,
  found: ({ traits }) => traits.motion.map((m) => `${m.cause} at ${m.rateHz}`).join(),
  right: ({ traits }) => traits.motion.some((m) => m.cause === cause && within(m.rateHz, rateHz, 0.04)),
  confidence: ({ traits }) => traits.motion[0]?.confidence ?? 0,
  dryOnly: true,
});
const notes = (midis: readonly number[]): Fact => ({
  name: 'notes',
  wanted: midis.join(' '),
  found: (reading) => reading.notes.map((n) => n.midi).join(' '),
  right: (reading) =>
    [...reading.notes]
      .map((n) => n.midi)
      .sort()
      .join() === [...midis].sort().join(),
  confidence: () => 0.8,
});
const sourcesFact = traitFact('sources');
/** A part of one of some shapes at an interval from the tone's pitch. */
const part = (shapes: readonly string[], semitones: number): Fact =>
  sourcesFact(
    `${shapes[0]} at ${semitones}`,
    true,
    (s) => s.parts.map((p) => `${p.shape} ${p.semitones}`).join(', '),
    (s) => s.parts.some((p) => shapes.includes(p.shape) && Math.abs(p.semitones - semitones) < 0.5),
    true,
  );
const fmFact = traitFact('fm');
const fm = (carrierHz: number, ratio: number): Fact =>
  fmFact(
    'ratio',
    `${carrierHz.toFixed(1)} Hz, ${ratio.toFixed(3)}`,
    (f) => `${f.carrierHz} Hz, ${f.ratio}`,
    (f) => within(f.carrierHz, carrierHz, 0.005) && within(f.ratio, ratio, 0.01),
    true,
  );
const ringFact = traitFact('ring');
const ring = (rateHz: number): Fact =>
  ringFact(
    'rate',
    rateHz,
    (r) => r.rateHz,
    (r) => within(r.rateHz, rateHz, 0.02),
    true,
  );
const formantFact = traitFact('formants');
const formantsAt = (hz: readonly number[]): Fact =>
  formantFact(
    'centres',
    hz.map((one) => one.toFixed(0)).join(', '),
    (f) => f.peaks.map((one) => `${one.fromHz}-${one.toHz}`).join(', '),
    (f) =>
      hz.every((one) => f.peaks.some((p) => [p.fromHz, p.toHz].some((end) => Math.abs(Math.log2(end / one)) < 0.3))),
    true,
  );

type Maker = (dice: Dice) => Omit<MadeTone, 'name'>;

const mono = (signal: Signal, has: readonly Feature[], ...facts: Fact[]): Omit<MadeTone, 'name'> => ({
  channels: [scaled(signal, 0.5 / peakOf(signal))],
  has,
  facts,
});

const scaled = (signal: Signal, gain: number): Signal => signal.map((x) => gain * x);
const soft = (x: number) => Math.tanh(x);

export const makers: Readonly<Record<string, Maker>> = {
  'sine pluck with a pitch drop': ({ between, whole }) => {
    const [m, st, tau] = [whole(36, 64), between(12, 30), between(0.006, 0.02)];
    const body = tone({ seconds: 1, hz: hzOf(m), amplitude: sine, semitones: (t) => st * Math.exp(-t / tau) });
    return mono(
      shaped(body, level({ attack: 0.001, decay: between(0.1, 0.25), sustain: 0 })),
      ['slide'],
      midi(m),
      slide(st, tau),
    );
  },
  'sine and a short saw': ({ between, whole }) => {
    const m = whole(45, 69);
    const bite = shaped(tone({ seconds: 1, hz: hzOf(m) }), level({ attack: 0.001, decay: 0.03, sustain: 0 }));
    const body = shaped(
      tone({ seconds: 1, hz: hzOf(m), amplitude: sine }),
      level({ decay: between(0.15, 0.3), sustain: 0 }),
    );
    return mono(mixed(body, scaled(bite, between(0.3, 0.7))), [], midi(m));
  },
  'muted string': ({ between, whole }) => {
    const [m, st, tau] = [whole(40, 60), between(1.5, 3), between(0.02, 0.04)];
    const narrow = tone({
      seconds: 1,
      hz: hzOf(m),
      amplitude: pulse(0.08),
      semitones: (t) => st * Math.exp(-t / tau),
    });
    const low = twoPole(narrow, 'low', falling(3000, 500, 0.06), 0.8);
    return mono(shaped(low, level({ attack: 0.002, decay: 0.12, sustain: 0 })), ['slide'], midi(m), slide(st, tau));
  },
  'strummed chord': ({ between, whole }) => {
    const m = whole(48, 57);
    const midis = [m, m + 7, m + 15];
    const gap = between(0.012, 0.02);
    const out = midis.map((one, i) => {
      const plucked = shaped(tone({ seconds: 1.5, hz: hzOf(one) }), level({ attack: 0.002, decay: 0.5, sustain: 0 }));
      const late = new Float64Array(plucked.length);
      late.set(plucked.subarray(0, plucked.length - lengthOf(i * gap)), lengthOf(i * gap));
      return late;
    });
    return mono(mixed(...out), ['voices', 'motion'], notes(midis));
  },
  'filtered saw bass over a sine sub': ({ between, whole }) => {
    const m = whole(36, 47);
    const [from, to] = [between(1800, 4000), between(250, 500)];
    const body = twoPole(tone({ seconds: 1.4, hz: hzOf(m) }), 'low', falling(from, to, between(0.1, 0.25)), 1);
    const sub = tone({ seconds: 1.4, hz: hzOf(m - 12), amplitude: sine, phase: 0.3 });
    const both = mixed(body, scaled(sub, between(0.4, 0.9)));
    return mono(shaped(both, level({ off: 1.2 })), [], midi(m), part(['sine'], -12), part(['saw'], 0));
  },
  'saw over a sine sub': ({ between, whole, random }) => {
    const m = whole(40, 60);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), phase: random() }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: sine }), between(0.3, 1)),
    );
    return mono(shaped(both, level({ off: 1 })), [], midi(m), part(['sine'], -12), part(['saw'], 0));
  },
  'square over a triangle sub': ({ between, whole, random }) => {
    const m = whole(40, 58);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square, phase: random() }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: triangle }), between(0.4, 1)),
    );
    return mono(shaped(both, level({ off: 1 })), [], midi(m), part(['sine', 'triangle'], -12), part(['square'], 0));
  },
  'two saws that fight': ({ between, whole, random }) => {
    const [m, cents] = [whole(33, 50), between(18, 52)];
    const pair = voicesOf({ seconds: 2, hz: hzOf(m) }, [-cents / 2, cents / 2], random);
    return mono(shaped(pair, level({ off: 1.8 })), ['voices', 'motion'], midi(m), detune(cents), voices(2));
  },
  'three saws behind a low-pass': ({ between, whole, random }) => {
    const [m, cents] = [whole(33, 48), between(20, 40)];
    const three = voicesOf({ seconds: 2.5, hz: hzOf(m) }, spreadOf(3, cents), random);
    const low = twoPole(three, 'low', falling(between(2500, 5000), 700, 0.5), 0.8);
    return mono(shaped(low, level({ off: 2.2 })), ['voices', 'motion'], midi(m), detune(cents), voices(3));
  },
  'moving vowel': ({ between, whole }) => {
    const m = whole(36, 48);
    const [a, b] = [between(350, 500), between(600, 900)];
    const [c, d] = [between(900, 1200), between(1700, 2300)];
    const move = (from: number, to: number) => (t: number) => from * (to / from) ** Math.min(1, t / 1.2);
    const [low, high] = [move(a, b), move(d, c)];
    const vowel = tone({ seconds: 1.6, hz: hzOf(m), amplitude: formants(hzOf(m), (t) => [low(t), high(t)], 130) });
    return mono(shaped(vowel, level({ off: 1.4 })), ['formants'], midi(m), formantsAt([a, d]));
  },
  'held vowel': ({ between, whole }) => {
    const m = whole(36, 50);
    const centres = [between(400, 800), between(1100, 1700), between(2300, 3000)];
    const vowel = tone({ seconds: 1.2, hz: hzOf(m), amplitude: formants(hzOf(m), () => centres, 130) });
    return mono(shaped(vowel, level({ off: 1 })), ['formants'], midi(m), formantsAt(centres.slice(0, 2)));
  },
  'sine pushed into a soft curve': ({ between, whole }) => {
    const m = whole(30, 45);
    const body = shaped(
      tone({ seconds: 1.4, hz: hzOf(m), amplitude: sine }),
      level({ decay: 0.4, sustain: 0.15, off: 1.2 }),
    );
    const push = between(4, 12);
    return mono(
      driven(body, (x) => soft(push * x)),
      ['dirt'],
      midi(m),
      dirty(['soft', 'hard']),
    );
  },
  'folded sine': ({ between, whole }) => {
    const m = whole(30, 45);
    const body = shaped(
      tone({ seconds: 1.4, hz: hzOf(m), amplitude: sine }),
      level({ decay: 0.35, sustain: 0, off: 1.2 }),
    );
    const push = between(3, 6);
    return mono(
      driven(body, (x) => Math.sin(push * x)),
      ['dirt'],
      midi(m),
      dirty(['fold']),
    );
  },
  'two driven sines, the fifth harmonic faded in': ({ between, whole }) => {
    const m = whole(31, 43);
    const hz = hzOf(m);
    const [second, fifth] = [between(0.3, 0.6), between(0.2, 0.5)];
    const body = tone({
      seconds: 1.8,
      hz,
      amplitude: (n, t) =>
        n === 1 ? 1 : n === 2 ? second * Math.min(1, t / 0.8) : n === 5 ? fifth * Math.min(1, t / 0.8) : 0,
    });
    return mono(shaped(body, level({ off: 1.6 })), [], midi(m), part(['sine'], 0));
  },
  'saw lead and a pair an octave up': ({ between, whole, random }) => {
    const [m, cents] = [whole(52, 67), between(8, 16)];
    const main = tone({ seconds: 2, hz: hzOf(m) });
    const pair = voicesOf({ seconds: 2, hz: hzOf(m + 12) }, [-cents / 2, cents / 2], random);
    const both = mixed(main, scaled(pair, between(0.4, 0.7)));
    return mono(shaped(both, level({ off: 1.8 })), ['voices', 'motion'], midi(m));
  },
  'sixteen saws on both sides': ({ between, whole, random }) => {
    const [m, cents] = [whole(50, 70), between(20, 40)];
    const [left, right] = [0, 1].map((side) =>
      shaped(
        voicesOf(
          { seconds: 2, hz: hzOf(m) },
          spreadOf(16, cents).filter((_, i) => i % 2 === side),
          random,
        ),
        level({ off: 1.8 }),
      ),
    );
    const gain = 0.5 / Math.max(peakOf(left), peakOf(right));
    return {
      channels: [scaled(left, gain), scaled(right, gain)],
      has: ['voices', 'motion'],
      facts: [midi(m), detune(cents), voices(16)],
    };
  },
  'six voices on both sides': ({ between, whole, random }) => {
    const [m, cents] = [whole(45, 65), between(18, 36)];
    const [left, right] = [0, 1].map((side) =>
      shaped(
        voicesOf(
          { seconds: 2.5, hz: hzOf(m) },
          spreadOf(6, cents).filter((_, i) => i % 2 === side),
          random,
        ),
        level({ attack: 0.1, off: 2.2, release: 0.2 }),
      ),
    );
    const gain = 0.5 / Math.max(peakOf(left), peakOf(right));
    return {
      channels: [scaled(left, gain), scaled(right, gain)],
      has: ['voices', 'motion'],
      facts: [midi(m), detune(cents), voices(6)],
    };
  },
  'brassy saw with a glide at the start': ({ between, whole }) => {
    const [m, st, tau] = [whole(50, 66), -between(3, 8), between(0.025, 0.05)];
    const brass = tone({ seconds: 1.3, hz: hzOf(m), semitones: (t) => st * Math.exp(-t / tau) });
    const low = twoPole(brass, 'low', () => 3000, 0.8);
    return mono(shaped(low, level({ attack: 0.03, off: 1.1 })), ['slide'], midi(m), slide(st, tau, false));
  },
  'saw lead with a growing vibrato': ({ between, whole }) => {
    const [m, rate, cents] = [whole(60, 76), between(4.5, 6.5), between(12, 40)];
    const lead = tone({
      seconds: 3,
      hz: hzOf(m),
      semitones: (t) => (cents / 100) * Math.min(1, t / 1.2) * Math.sin(2 * Math.PI * rate * t),
    });
    return mono(shaped(lead, level({ off: 2.8 })), ['vibrato', 'motion'], midi(m), vibrato(rate, cents));
  },
  'square lead with vibrato': ({ between, whole }) => {
    const [m, rate, cents] = [whole(60, 76), between(4.5, 7), between(15, 60)];
    const lead = tone({
      seconds: 2,
      hz: hzOf(m),
      amplitude: square,
      semitones: (t) => (cents / 100) * Math.sin(2 * Math.PI * rate * t),
    });
    return mono(
      shaped(lead, level({ off: 1.8 })),
      ['vibrato', 'motion'],
      midi(m),
      vibrato(rate, cents),
      shape('square'),
    );
  },
  'two notes slurred': ({ between, whole }) => {
    const [m, step, glide] = [whole(48, 64), whole(3, 9), between(0.05, 0.12)];
    const line = tone({
      seconds: 1.6,
      hz: hzOf(m),
      semitones: (t) => (t < 0.7 ? 0 : step * Math.min(1, (t - 0.7) / glide)),
    });
    return mono(
      shaped(line, level({ off: 1.5 })),
      ['slide', 'motion'],
      notes([m, m + step]),
      pitchFact(
        'glide',
        glide,
        (p) => p.glideSeconds,
        (p) => within(p.glideSeconds, glide, 0.3),
        true,
      ),
    );
  },
  'resonant pulse into a drive': ({ between, whole }) => {
    const m = whole(33, 48);
    const [from, to] = [between(1500, 3000), between(300, 500)];
    const acid = twoPole(
      tone({ seconds: 1, hz: hzOf(m), amplitude: pulse(0.4) }),
      'low',
      falling(from, to, 0.12),
      between(5, 9),
    );
    const push = between(1.5, 3) / peakOf(acid);
    return mono(
      shaped(
        driven(acid, (x) => soft(push * x)),
        level({ off: 0.8 }),
      ),
      ['dirt'],
      midi(m),
      resonance(5),
    );
  },
  'resonant square': ({ between, whole }) => {
    const m = whole(33, 50);
    const [from, to] = [between(1800, 3500), between(300, 600)];
    const line = twoPole(
      tone({ seconds: 1, hz: hzOf(m), amplitude: square }),
      'low',
      falling(from, to, 0.15),
      between(5, 9),
    );
    return mono(shaped(line, level({ off: 0.8 })), [], midi(m), resonance(7), sweep(from, to));
  },
  'noise through a tuned band-pass': ({ whole, random }) => {
    const midis = [whole(60, 66), whole(67, 72), whole(60, 66)];
    const out = midis.map((m) =>
      shaped(
        twoPole(noise(0.5, random), 'band', () => hzOf(m), 60),
        level({ attack: 0.01, off: 0.4, release: 0.02 }),
      ),
    );
    const line = new Float64Array(lengthOf(1.5));
    out.forEach((one, i) => line.set(one.subarray(0, lengthOf(0.5)), lengthOf(0.5 * i)));
    return mono(line, ['noise', 'motion', 'voices', 'slide'], notes(midis));
  },
  'pad of three saws': ({ between, whole, random }) => {
    const [m, cents] = [whole(48, 60), between(10, 20)];
    const pad = voicesOf({ seconds: 4, hz: hzOf(m) }, spreadOf(3, cents), random);
    return mono(
      shaped(pad, level({ attack: 0.6, off: 3.2, release: 0.3 })),
      ['voices', 'motion'],
      midi(m),
      detune(cents),
    );
  },
  'slow pad of two saws': ({ between, whole, random }) => {
    const [m, cents] = [whole(48, 62), between(4, 8)];
    const pad = voicesOf({ seconds: 4, hz: hzOf(m) }, [-cents / 2, cents / 2], random);
    const low = twoPole(pad, 'low', () => 2500, 0.7);
    return mono(
      shaped(low, level({ attack: 0.4, off: 3.4, release: 0.2 })),
      ['voices', 'motion'],
      midi(m),
      detune(cents),
    );
  },
  'pad in a room': ({ between, whole, random }) => {
    const [m, rt60] = [whole(48, 60), between(1, 2.2)];
    const pad = shaped(
      voicesOf({ seconds: 4.5, hz: hzOf(m) }, spreadOf(3, 12), random),
      level({ attack: 0.2, off: 1.8, release: 0.05 }),
    );
    return mono(
      withRoom(pad, { rt60Seconds: rt60, wetDb: -between(6, 12), seed: Math.ceil(1000 * random()) }),
      ['voices', 'motion', 'room'],
      midi(m),
      room(rt60),
    );
  },
  'pad whose filter goes round': ({ between, whole }) => {
    const [m, rate] = [whole(45, 57), between(0.8, 2.5)];
    const pad = twoPole(
      tone({ seconds: 4, hz: hzOf(m) }),
      'low',
      (t) => 900 * 2 ** (1.1 * Math.sin(2 * Math.PI * rate * t)),
      0.8,
    );
    return mono(shaped(pad, level({ attack: 0.05, off: 3.7 })), ['motion'], midi(m), motionFact('filter', rate));
  },
  'bell of two sines that do not fit': ({ between, whole }) => {
    const [m, ratio, index] = [whole(55, 72), between(1.2, 1.45), between(1.5, 3)];
    const bell = fmTone(1.6, hzOf(m), ratio, (t) => index * Math.exp(-t / 0.6));
    return mono(shaped(bell, level({ attack: 0.002, decay: 0.6, sustain: 0 })), ['fm'], midi(m), fm(hzOf(m), ratio));
  },
  'metal with a high modulator': ({ between, whole }) => {
    const [m, ratio, index] = [whole(50, 64), between(2.2, 3.45), between(1, 2.2)];
    const metal = fmTone(1.4, hzOf(m), ratio, (t) => index * Math.exp(-t / 0.8));
    return mono(
      shaped(metal, level({ attack: 0.002, decay: 0.5, sustain: 0.1, off: 1.2 })),
      ['fm'],
      midi(m),
      fm(hzOf(m), ratio),
    );
  },
  'growl of equal sines': ({ between, whole }) => {
    const [m, index] = [whole(31, 45), between(3, 6)];
    const growl = fmTone(1.4, hzOf(m), 1, (t) => index * Math.exp(-t / 0.5));
    return mono(shaped(growl, level({ attack: 0.003, off: 1.2 })), [], midi(m));
  },
  'hollow sines at one and two': ({ between, whole }) => {
    const [m, index] = [whole(40, 60), between(0.8, 2)];
    const hollow = fmTone(1.2, hzOf(m), 2, () => index);
    return mono(shaped(hollow, level({ attack: 0.003, off: 1 })), [], midi(m));
  },
  'triangle ringed at a quarter': ({ whole }) => {
    const m = whole(60, 76);
    const hz = hzOf(m);
    const ringed = shaped(tone({ seconds: 1.2, hz, amplitude: triangle }), (t) => Math.sin((2 * Math.PI * hz * t) / 4));
    return mono(shaped(ringed, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(hz / 4));
  },
  'saw ringed low': ({ between, whole }) => {
    const [m, rate] = [whole(50, 66), between(28, 60)];
    const ringed = shaped(tone({ seconds: 1.2, hz: hzOf(m) }), (t) => Math.sin(2 * Math.PI * rate * t));
    return mono(shaped(ringed, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(rate));
  },
  'square with its level moved fast': ({ between, whole }) => {
    const [m, rate, depth] = [whole(52, 70), between(28, 60), between(0.5, 0.9)];
    const moved = shaped(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square }),
      (t) => 1 + depth * Math.sin(2 * Math.PI * rate * t),
    );
    return mono(shaped(moved, level({ off: 1 })), ['ring', 'motion'], midi(m), ring(rate));
  },
  'organ with a key click': ({ between, whole, random }) => {
    const m = whole(48, 67);
    const bars: Record<number, number> = { 1: 1, 2: 0.7, 3: 0.5, 4: 0.5, 6: 0.3, 8: 0.35 };
    const organ = shaped(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: (n) => bars[n] ?? 0 }),
      level({ attack: 0.002, off: 1, release: 0.01 }),
    );
    const click = shaped(noise(1.2, random), (t) => between(0.5, 1) * (t < 0.004 ? 1 - t / 0.004 : 0));
    return mono(mixed(organ, click), ['noise'], midi(m), attackNoise);
  },
  'organ with a lower stop': ({ between, whole }) => {
    const m = whole(48, 64);
    const bars: Record<number, number> = { 1: between(0.5, 1), 2: 1, 3: 0.5, 4: 0.7, 6: 0.5, 8: 0.4, 12: 0.3, 16: 0.3 };
    const organ = tone({ seconds: 1.2, hz: hzOf(m - 12), amplitude: (n) => bars[n] ?? 0 });
    return mono(shaped(organ, level({ attack: 0.005, off: 1, release: 0.02 })), [], midi(m), part(['sine'], -12));
  },
  'stiff string': ({ between, whole }) => {
    const [m, b] = [whole(40, 60), between(2e-4, 8e-4)];
    const hz = hzOf(m);
    const partials = Array.from({ length: 24 }, (_, i) => i + 1).map((n) =>
      shaped(
        tone({ seconds: 1.5, hz: n * hz * Math.sqrt(1 + b * n * n), amplitude: sine, phase: 0.37 * n }),
        (t) => (1 / n) * Math.exp(-t * (1 + 0.15 * n)),
      ),
    );
    return mono(
      shaped(mixed(...partials), level({ attack: 0.002 })),
      ['stiff'],
      midi(m),
      shapeFact(
        'inharmonicity',
        b,
        (p) => p.inharmonicity,
        (p) => within(p.inharmonicity, b, 0.2),
      ),
    );
  },
  'square lead with echoes': ({ between, whole }) => {
    const [m, seconds, feedback] = [whole(55, 70), between(0.2, 0.45), between(0.3, 0.6)];
    const stab = shaped(tone({ seconds: 3, hz: hzOf(m), amplitude: square }), (t) =>
      t < 0.004 ? t / 0.004 : Math.exp(-(t - 0.004) / 0.1),
    );
    return mono(withEchoes(stab, seconds, 0.6, feedback), ['echo', 'motion'], midi(m), echo(seconds, feedback));
  },
  'crushed saw': ({ whole }) => {
    const [m, bits] = [whole(40, 60), whole(5, 9)];
    const step = 2 / 2 ** bits;
    const own = shaped(tone({ seconds: 1.2, hz: hzOf(m) }), level({ off: 1 }));
    const crushed = scaled(own, 0.8 / peakOf(own)).map((x) => Math.round(x / step) * step);
    return {
      channels: [crushed],
      has: ['dirt', 'noise'],
      facts: [
        midi(m),
        dirtFact(
          'bits',
          bits,
          (d) => d.bits,
          (d) => d.bits === bits,
          true,
        ),
      ],
    };
  },
  'saw with hiss': ({ between, whole, random }) => {
    const [m, db] = [whole(45, 65), -between(12, 30)];
    const body = tone({ seconds: 1.5, hz: hzOf(m) });
    const air = noise(1.5, random);
    const power = (x: Signal) => x.reduce((sum, v) => sum + v * v, 0);
    const gain = Math.sqrt(power(body) / power(air)) * 10 ** (db / 20);
    return mono(shaped(mixed(body, scaled(air, gain)), level({ off: 1.3 })), ['noise'], midi(m), hiss(db));
  },
  'pulse whose width goes round': ({ between, whole }) => {
    const [m, rate] = [whole(40, 58), between(0.5, 2)];
    const moved = tone({
      seconds: 2.5,
      hz: hzOf(m),
      amplitude: (n, t) => Math.sin(Math.PI * n * (0.35 + 0.12 * Math.sin(2 * Math.PI * rate * t))) / n,
    });
    return mono(shaped(moved, level({ off: 2.2 })), ['motion', 'voices'], midi(m));
  },
  'lead with a square tremolo': ({ between, whole }) => {
    const [m, rate] = [whole(52, 70), between(4, 8)];
    const lead = shaped(tone({ seconds: 2, hz: hzOf(m) }), (t) => ((t * rate) % 1 < 0.5 ? 1 : 0.35));
    return mono(shaped(lead, level({ off: 1.8 })), ['motion'], midi(m), motionFact('tremolo', rate));
  },
  'saw and a saw an octave up': ({ between, whole, random }) => {
    const m = whole(40, 55);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m) }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m + 12), phase: random() }), between(0.7, 1)),
    );
    return mono(shaped(both, level({ off: 1 })), [], midi(m), part(['saw'], 0), part(['saw'], 12));
  },
  'square and a high sine': ({ between, whole, random }) => {
    const m = whole(40, 55);
    const both = mixed(
      tone({ seconds: 1.2, hz: hzOf(m), amplitude: square }),
      scaled(tone({ seconds: 1.2, hz: hzOf(m) * 4, amplitude: sine, phase: random() }), between(0.3, 0.6)),
    );
    return mono(shaped(both, level({ off: 1 })), [], midi(m), part(['square'], 0), part(['sine'], 24));
  },
  'plain saw': ({ whole }) => {
    const m = whole(36, 72);
    return mono(
      shaped(tone({ seconds: 1.2, hz: hzOf(m) }), level({ off: 1 })),
      [],
      midi(m),
      shape('saw'),
      part(['saw'], 0),
    );
  },
  'clean triangle': ({ whole }) => {
    const m = whole(40, 76);
    const own = tone({ seconds: 1.2, hz: hzOf(m), amplitude: triangle });
    return mono(shaped(own, level({ off: 1 })), [], midi(m), shape('triangle'));
  },
};

export type MadeName = keyof typeof makers;

/** A tone of every kind, with the numbers of a seed. */
export const madeTones = (seed: number): MadeTone[] =>
  Object.entries(makers).map(([name, make], i) => ({ name, ...make(diceOf(1000 * seed + i)) }));

/** What is done to tones after their source, and what it adds to them. */
export const treatments: Readonly<
  Record<string, { adds: readonly Feature[]; run: (signal: Signal, seed: number) => Signal }>
> = {
  dry: { adds: [], run: (signal) => signal },
  drive: { adds: ['dirt'], run: (signal) => driven(signal, (x) => 0.5 * soft(4 * x)) },
  filter: { adds: [], run: (signal, seed) => twoPole(signal, 'low', () => 700 * 2 ** (seed % 3), 0.8) },
  chorus: { adds: ['motion', 'voices', 'vibrato'], run: chorused },
  room: {
    adds: ['room', 'motion'],
    run: (signal, seed) => {
      const long = new Float64Array(signal.length + lengthOf(1));
      long.set(signal);
      return withRoom(long, { rt60Seconds: 0.9, wetDb: -14, seed: seed + 3 });
    },
  },
};

function chorused(signal: Signal, seed: number): Signal {
  const rate = 0.6 + 0.2 * (seed % 4);
  return withDelay(signal, (t) => 0.012 + 0.003 * Math.sin(2 * Math.PI * rate * t), 0.7);
}

/** What a reading claims, and how sure it is of it. */
export function claimsOf({ traits }: Reading): Map<Feature, number> {
  const {
    pitch,
    unison,
    noise: air,
    space,
    motion,
    dirt,
    fm: sidebands,
    ring: rung,
    formants: peaks,
    partials,
  } = traits;
  const claims: [Feature, boolean, number][] = [
    ['vibrato', pitch.vibrato !== null, pitch.confidence],
    ['slide', pitch.sweep !== null, pitch.confidence],
    ['voices', unison.detuneCents !== null, unison.confidence],
    ['noise', air.levelDb !== null, air.confidence],
    ['room', space.rt60Seconds !== null, space.confidence],
    ['echo', space.echo !== null, space.confidence],
    ['motion', motion.some(({ cause }) => cause !== 'vibrato'), motion[0]?.confidence ?? 0],
    ['dirt', dirt.kind !== null && dirt.kind !== 'none', dirt.confidence],
    ['fm', sidebands.carrierHz !== null, sidebands.confidence],
    ['ring', rung.rateHz !== null, rung.confidence],
    ['formants', peaks.peaks.length > 0, peaks.confidence],
    ['stiff', partials.inharmonicity !== null && partials.inharmonicity > 0, partials.confidence],
  ];
  return new Map(claims.filter(([, claimed]) => claimed).map(([feature, , confidence]) => [feature, confidence]));
}
