/** What a reading has to say of a tone that was made by formula. */
import type { Reading } from '../../src/reading/schema';

export interface Fact {
  name: string;
  wanted: unknown;
  found: (reading: Reading) => unknown;
  right: (reading: Reading) => boolean;
  confidence: (reading: Reading) => number;
  /** Only of the tone as it was made: what is done to it hides or changes it. */
  dryOnly?: boolean;
}

export const within = (found: number | null | undefined, wanted: number, share: number, floor = 0) =>
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

export const pitchFact = traitFact('pitch');
export const midi = (wanted: number): Fact =>
  pitchFact(
    'note',
    wanted,
    (p) => p.midi,
    (p) => p.midi === wanted,
  );
export const slide = (semitones: number, timeConstant: number, dryOnly = true): Fact =>
  pitchFact(
    'slide',
    `${semitones.toFixed(1)} st in ${(1000 * timeConstant).toFixed(0)} ms`,
    (p) => p.sweep && `${p.sweep.semitones} st in ${1000 * p.sweep.seconds} ms`,
    (p) => within(p.sweep?.semitones, semitones, 0.3, 0.3),
    dryOnly,
  );
export const vibrato = (rateHz: number, cents: number): Fact =>
  pitchFact(
    'vibrato',
    `${rateHz.toFixed(2)} Hz, ${cents.toFixed(0)} ct`,
    (p) => p.vibrato && `${p.vibrato.rateHz} Hz, ${p.vibrato.depthCents} ct`,
    (p) => within(p.vibrato?.rateHz, rateHz, 0.04) && within(p.vibrato?.depthCents, cents, 0.3, 3),
  );
const unisonFact = traitFact('unison');
export const detune = (cents: number): Fact =>
  unisonFact(
    'detune',
    cents,
    (u) => u.detuneCents,
    (u) => within(u.detuneCents, cents, 0.2, 3),
  );
export const voices = (count: number): Fact =>
  unisonFact(
    'voices',
    count > 5 ? 'many' : count,
    (u) => u.voices,
    (u) => (count > 5 ? u.voices === null || u.voices > 4 : u.voices === count),
  );
const noiseFact = traitFact('noise');
export const hiss = (db: number): Fact =>
  noiseFact(
    'level',
    db,
    (n) => n.levelDb,
    (n) => within(n.levelDb, db, 0, 3),
    true,
  );
export const attackNoise: Fact = noiseFact(
  'at the attack',
  true,
  (n) => n.attackOnly,
  (n) => n.attackOnly === true,
  true,
);
const brightnessFact = traitFact('brightness');
export const resonance = (atLeastDb: number): Fact =>
  brightnessFact(
    'resonance',
    `over ${atLeastDb}`,
    (b) => b.resonanceDb,
    (b) => (b.resonanceDb ?? 0) >= atLeastDb,
    true,
  );
export const sweep = (from: number, to: number): Fact =>
  brightnessFact(
    'sweep',
    `${from.toFixed(0)} to ${to.toFixed(0)} Hz`,
    (b) => b.sweep && `${b.sweep.fromHz} to ${b.sweep.toHz} Hz`,
    (b) => b.sweep !== null && Math.abs(Math.log2(b.sweep.fromHz / from)) < 0.5 && b.sweep.toHz < b.sweep.fromHz,
    true,
  );
const spaceFact = traitFact('space');
export const room = (rt60: number): Fact =>
  spaceFact(
    'room',
    rt60,
    (s) => s.rt60Seconds,
    (s) => within(s.rt60Seconds, rt60, 0.2),
  );
export const echo = (seconds: number, feedback: number): Fact =>
  spaceFact(
    'echo',
    `${seconds.toFixed(3)} s, ${feedback.toFixed(2)}`,
    (s) => s.echo && `${s.echo.seconds} s, ${s.echo.feedback}`,
    (s) => within(s.echo?.seconds, seconds, 0.03) && within(s.echo?.feedback, feedback, 0.2, 0.08),
    true,
  );
export const dirtFact = traitFact('dirt');
export const dirty = (kinds: readonly string[]): Fact =>
  dirtFact(
    'kind',
    kinds.join(' or '),
    (d) => d.kind,
    (d) => d.kind !== null && kinds.includes(d.kind),
    true,
  );
export const shapeFact = traitFact('partials');
export const shape = (name: string): Fact =>
  shapeFact(
    'shape',
    name,
    (p) => p.nearestShape,
    (p) => p.nearestShape === name,
    true,
  );
export const motionFact = (cause: string, rateHz: number): Fact => ({
  name: 'motion',
  wanted: `${cause} at ${rateHz.toFixed(2)} Hz`,
  found: ({ traits }) => traits.motion.map((m) => `${m.cause} at ${m.rateHz}`).join(),
  right: ({ traits }) => traits.motion.some((m) => m.cause === cause && within(m.rateHz, rateHz, 0.04)),
  confidence: ({ traits }) => traits.motion[0]?.confidence ?? 0,
  dryOnly: true,
});
export const notes = (midis: readonly number[]): Fact => ({
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
export const part = (shapes: readonly string[], semitones: number): Fact =>
  sourcesFact(
    `${shapes[0]} at ${semitones}`,
    true,
    (s) => s.parts.map((p) => `${p.shape} ${p.semitones}`).join(', '),
    (s) => s.parts.some((p) => shapes.includes(p.shape) && Math.abs(p.semitones - semitones) < 0.5),
    true,
  );
const fmFact = traitFact('fm');
export const fm = (carrierHz: number, ratio: number): Fact =>
  fmFact(
    'ratio',
    `${carrierHz.toFixed(1)} Hz, ${ratio.toFixed(3)}`,
    (f) => `${f.carrierHz} Hz, ${f.ratio}`,
    (f) => within(f.carrierHz, carrierHz, 0.005) && within(f.ratio, ratio, 0.01),
    true,
  );
const ringFact = traitFact('ring');
export const ring = (rateHz: number): Fact =>
  ringFact(
    'rate',
    rateHz,
    (r) => r.rateHz,
    (r) => within(r.rateHz, rateHz, 0.02),
    true,
  );
const formantFact = traitFact('formants');
export const formantsAt = (hz: readonly number[]): Fact =>
  formantFact(
    'centres',
    hz.map((one) => one.toFixed(0)).join(', '),
    (f) => f.peaks.map((one) => `${one.fromHz}-${one.toHz}`).join(', '),
    (f) =>
      hz.every((one) => f.peaks.some((p) => [p.fromHz, p.toHz].some((end) => Math.abs(Math.log2(end / one)) < 0.3))),
    true,
  );
