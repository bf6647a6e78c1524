import { z } from 'zod';
import { midiFromHz } from '../../dsp/pitch';
import type { Unit } from '../../parameters/parameter';
import type { Reading } from '../schema';

type Group = keyof Reading['traits'];

/** A measured value that a person may know better. */
export interface Overrulable {
  label: string;
  group: Exclude<Group, 'motion'>;
  /** From the group down to the value. */
  path: readonly [string] | readonly [string, string];
  unit: Unit;
  min: number;
  max: number;
}

const entry = (
  label: string,
  group: Overrulable['group'],
  path: Overrulable['path'],
  unit: Unit,
  min: number,
  max: number,
): Overrulable => ({ label, group, path, unit, min, max });

/** Everything that can be overruled by hand, by name. */
export const overrulables = {
  f0Hz: entry('Fundamental', 'pitch', ['f0Hz'], 'Hz', 16, 8000),
  vibratoRateHz: entry('Vibrato rate', 'pitch', ['vibrato', 'rateHz'], 'Hz', 0.1, 20),
  vibratoDepthCents: entry('Vibrato depth', 'pitch', ['vibrato', 'depthCents'], 'ct', 0, 1200),
  attackSeconds: entry('Attack', 'loudness', ['attackSeconds'], 's', 0, 60),
  holdSeconds: entry('Hold', 'loudness', ['holdSeconds'], 's', 0, 60),
  decaySeconds: entry('Decay', 'loudness', ['decaySeconds'], 's', 0, 60),
  sustainDb: entry('Sustain', 'loudness', ['sustainDb'], 'dB', -100, 0),
  releaseSeconds: entry('Release', 'loudness', ['releaseSeconds'], 's', 0, 60),
  cutoffHz: entry('Cutoff', 'brightness', ['cutoffHz'], 'Hz', 20, 20000),
  resonanceDb: entry('Resonance', 'brightness', ['resonanceDb'], 'dB', 0, 36),
  noiseDb: entry('Noise', 'noise', ['levelDb'], 'dB', -100, 20),
  detuneCents: entry('Detune', 'unison', ['detuneCents'], 'ct', 0, 200),
  voices: entry('Voices', 'unison', ['voices'], '', 1, 16),
  rt60Seconds: entry('Reverberation time', 'space', ['rt60Seconds'], 's', 0, 60),
  preDelaySeconds: entry('Pre-delay', 'space', ['preDelaySeconds'], 's', 0, 0.5),
  echoSeconds: entry('Echo time', 'space', ['echo', 'seconds'], 's', 0, 10),
  bits: entry('Bits', 'dirt', ['bits'], '', 1, 24),
} as const satisfies Record<string, Overrulable>;

export type OverruleName = keyof typeof overrulables;
export const overruleNames = Object.keys(overrulables) as OverruleName[];

/** Values set by hand; each within the range of its entry. */
export const overrulesSchema = z
  .partialRecord(z.enum(overruleNames as [OverruleName, ...OverruleName[]]), z.number())
  .superRefine((values, context) => {
    for (const [name, value] of Object.entries(values) as [OverruleName, number][]) {
      const { label, min, max, unit } = overrulables[name];
      if (value < min || value > max) {
        context.addIssue({ code: 'custom', path: [name], message: `${label} is from ${min} to ${max} ${unit}`.trim() });
      }
    }
  });

export type Overrules = z.infer<typeof overrulesSchema>;

/** What a reading has at an entry; null where nothing was found. */
export function valueAt({ traits }: Reading, name: OverruleName): number | null {
  const { group, path }: Overrulable = overrulables[name];
  const outer = (traits[group] as Record<string, unknown>)[path[0]];
  const value = path.length === 2 ? (outer as Record<string, unknown> | null)?.[path[1]] : outer;
  return typeof value === 'number' ? value : null;
}

/** Whether there is a place for a value: of a vibrato or an echo that was not found there is none. */
export const canOverrule = ({ traits }: Reading, name: OverruleName): boolean => {
  const { group, path }: Overrulable = overrulables[name];
  return path.length === 1 || (traits[group] as Record<string, unknown>)[path[0]] !== null;
};

/** A reading with values set by hand in place of those that were measured. The reading itself stays as it is. */
export function applyOverrules(reading: Reading, overrules: Overrules): Reading {
  const names = (Object.keys(overrules) as OverruleName[]).filter((name) => canOverrule(reading, name));
  if (names.length === 0) return reading;
  return names.reduce((changed, name) => withValue(changed, name, overrules[name]!), reading);
}

function withValue(reading: Reading, name: OverruleName, value: number): Reading {
  const { group, path }: Overrulable = overrulables[name];
  const trait = reading.traits[group] as Record<string, unknown>;
  const own = path.length === 1 ? value : { ...(trait[path[0]] as object), [path[1]]: value };
  const note = name === 'f0Hz' ? noteOf(value) : {};
  return { ...reading, traits: { ...reading.traits, [group]: { ...trait, [path[0]]: own, ...note } } };
}

/** The note that a fundamental belongs to. */
function noteOf(f0Hz: number) {
  const exact = midiFromHz(f0Hz);
  return { midi: Math.round(exact), cents: Number((100 * (exact - Math.round(exact))).toPrecision(6)) };
}
