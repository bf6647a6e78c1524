import { type OverruleName, type Overrules, overruleNames } from '../../reading/hand/overrules';

/** Layers have up to so many sources. */
const sources = Array.from({ length: 16 }, (_, i) => `source-${i + 1}`);

/** What of a plain patch stands for each value that can be set by hand; none where nothing is searched. */
const heldBy: { readonly [N in OverruleName]: readonly string[] } = {
  f0Hz: [],
  vibratoRateHz: [],
  vibratoDepthCents: ['vibrato-layer-semitones.amount'],
  attackSeconds: ['amp.attackSeconds'],
  holdSeconds: ['amp.holdSeconds'],
  decaySeconds: ['amp.decaySeconds'],
  sustainDb: ['amp.sustainDb'],
  releaseSeconds: ['amp.releaseSeconds'],
  cutoffHz: ['filter-1.cutoffHz'],
  resonanceDb: ['filter-1.resonanceDb'],
  noiseDb: ['noise.levelDb'],
  voices: [],
  detuneCents: sources.map((id) => `${id}.unisonDetuneCents`),
  rt60Seconds: ['room.rt60Seconds'],
  preDelaySeconds: [],
  echoSeconds: [],
  bits: [],
};

/** Locks of values that were set by hand: a search does not know better. */
export const heldByHand = (overrules: Overrules): string[] =>
  overruleNames.filter((name) => overrules[name] !== undefined).flatMap((name) => heldBy[name]);
