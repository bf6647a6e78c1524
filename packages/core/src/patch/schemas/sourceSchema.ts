import { z } from 'zod';
import { interactionParameters, sourceParameters } from '../../parameters/sourceParameters';
import { drawnLine, id, on, ownName, shapeOf } from './schemaParts';

export const shapeNames = ['sine', 'triangle', 'saw', 'pulse'] as const;
export const phaseShapes = [
  'none',
  'crowded',
  'leaning',
  'hardSync',
  'hardSyncFaded',
  'thereAndBack',
  'stairs',
  'drawnTime',
] as const;
/** Where a source goes: into the first filter, the second, both, or past them. */
export const destinations = ['first', 'second', 'both', 'past'] as const;
/** What sets the pitch: steps from the note, a ratio to it, or nothing but a frequency. */
export const tunings = ['note', 'ratio', 'fixed'] as const;
export const MAX_PARTIALS = 256;

const every = { id, on, name: ownName, into: z.enum(destinations).default('first') };
const pitched = { ...every, tuning: z.enum(tunings).default('note') };
const periodic = {
  ...pitched,
  phaseShape: z.enum(phaseShapes).default('none'),
  /** The drawn phase: where in the period (y) is read at each moment of it (x). */
  drawnPhase: drawnLine([0, 1], [0, 1]).default([
    { x: 0, y: 0 },
    { x: 1, y: 1 },
  ]),
};

export const sourceSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('shape'),
    ...periodic,
    shape: z.enum(shapeNames).default('saw'),
    ...shapeOf(sourceParameters.shape),
  }),
  z.object({ kind: z.literal('wavetable'), ...periodic, wavetableId: id, ...shapeOf(sourceParameters.wavetable) }),
  z.object({
    kind: z.literal('partials'),
    ...periodic,
    /** Level of partial 1, 2, …; −96 dB is none. */
    levelsDb: z.array(z.number().min(-96).max(0)).min(1).max(MAX_PARTIALS).default([0]),
    /** Phase of each; missing ones are 0. */
    phasesCycles: z.array(z.number().min(0).max(1)).max(MAX_PARTIALS).default([]),
    ...shapeOf(sourceParameters.partials),
  }),
  z.object({
    kind: z.literal('noise'),
    ...every,
    /** Every note draws the same noise anew, or the noise runs on. */
    restart: z.enum(['note', 'free']).default('free'),
    ...shapeOf(sourceParameters.noise),
  }),
  z.object({
    kind: z.literal('sample'),
    ...pitched,
    sampleId: id,
    loop: z.boolean().default(false),
    reverse: z.boolean().default(false),
    ...shapeOf(sourceParameters.sample),
  }),
]);

/** FM and ring modulation between sources, `from` into `to`; FM from a source into itself is feedback. */
export const interactionSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('fm'), id, on, from: id, to: id, ...shapeOf(interactionParameters.fm) }),
  z.object({ kind: z.literal('ring'), id, on, from: id, to: id, ...shapeOf(interactionParameters.ring) }),
  z.object({
    kind: z.literal('ringTone'),
    id,
    on,
    to: id,
    /** A sine of a fixed frequency, or of a ratio to the note. */
    tuning: z.enum(['fixed', 'ratio']).default('fixed'),
    ...shapeOf(interactionParameters.ringTone),
  }),
]);
