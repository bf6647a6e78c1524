import { z } from 'zod';
import { midiFromHz } from '../../dsp/pitch';
import type { Reading, TraitId } from '../schema';
import type { Overrulable } from '../traits/overrulable';
import { pitchOverrules } from '../traits/pitch/overrules';
import { loudnessOverrules } from '../traits/loudness/overrules';
import { brightnessOverrules } from '../traits/brightness/overrules';
import { noiseOverrules } from '../traits/noise/overrules';
import { unisonOverrules } from '../traits/unison/overrules';
import { spaceOverrules } from '../traits/space/overrules';
import { dirtOverrules } from '../traits/dirt/overrules';

/** What can be set by hand of every trait. */
const byTrait = {
  pitch: pitchOverrules,
  loudness: loudnessOverrules,
  brightness: brightnessOverrules,
  partials: {},
  sources: {},
  fm: {},
  ring: {},
  formants: {},
  noise: noiseOverrules,
  unison: unisonOverrules,
  width: {},
  motion: {},
  space: spaceOverrules,
  dirt: dirtOverrules,
} satisfies { readonly [T in TraitId]: Readonly<Record<string, Overrulable>> };

/** Everything that can be overruled by hand, by name. */
export const overrulables = {
  ...byTrait.pitch,
  ...byTrait.loudness,
  ...byTrait.brightness,
  ...byTrait.partials,
  ...byTrait.sources,
  ...byTrait.fm,
  ...byTrait.ring,
  ...byTrait.formants,
  ...byTrait.noise,
  ...byTrait.unison,
  ...byTrait.width,
  ...byTrait.motion,
  ...byTrait.space,
  ...byTrait.dirt,
};

/** The trait that each belongs to. */
const traitOf = new Map<string, TraitId>(
  (Object.keys(byTrait) as TraitId[]).flatMap((id) => Object.keys(byTrait[id]).map((name) => [name, id] as const)),
);

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
  const { path } = overrulables[name];
  const group = traitOf.get(name)!;
  const outer = (traits[group] as Record<string, unknown>)[path[0]];
  const value = path.length === 2 ? (outer as Record<string, unknown> | null)?.[path[1]] : outer;
  return typeof value === 'number' ? value : null;
}

/** Whether there is a place for a value: of a vibrato or an echo that was not found there is none. */
export const canOverrule = ({ traits }: Reading, name: OverruleName): boolean => {
  const { path } = overrulables[name];
  const group = traitOf.get(name)!;
  return path.length === 1 || (traits[group] as Record<string, unknown>)[path[0]] !== null;
};

/**
 * A reading with values set by hand in place of those that were measured. The reading itself stays as it is.
 */
export function applyOverrules(reading: Reading, overrules: Overrules): Reading {
  const names = (Object.keys(overrules) as OverruleName[]).filter((name) => canOverrule(reading, name));
  if (names.length === 0) return reading;
  return names.reduce((changed, name) => withValue(changed, name, overrules[name]!), reading);
}

function withValue(reading: Reading, name: OverruleName, value: number): Reading {
  const { path } = overrulables[name];
  const group = traitOf.get(name)!;
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
