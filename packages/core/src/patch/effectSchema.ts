import { z } from 'zod';
import { EQUALIZER_BANDS, effectParameters } from '../parameters/effectParameters';
import { lfoShapes } from './modulatorSchema';
import { division, drawnLine, id, on, shapeOf } from './schemaParts';
import { shaperCurves } from './shapingSchema';

/** In place of a time or a rate. */
const optionalDivision = division.nullable().default(null);

/** A layer whose voices, before their chain, tell the effect what to do. */
const keyLayerId = id.nullable().default(null);
/** Whether a frequency is as set, or follows the note that began last. */
const tuning = z.enum(['fixed', 'note']).default('note');

export const cabinetKinds = ['openBack', 'closedBack', 'smallSpeaker', 'horn', 'telephone'] as const;
export const duckerKeys = ['pattern', 'drawn', 'layer'] as const;
export const PATTERN_STEPS = 16;
/** A stroke on every beat. */
const fourBeats = () => Array.from({ length: PATTERN_STEPS }, (_, step) => step % 4 === 0);

export const bandKinds = ['off', 'lowCut', 'highCut', 'lowShelf', 'highShelf', 'bell', 'notch', 'tilt'] as const;
export const cutSlopes = [6, 12, 18, 24, 36, 48] as const;

const band = z.object({
  kind: z.enum(bandKinds).default('off'),
  /** Of cuts. */
  slopeDbPerOctave: z.union(cutSlopes.map((slope) => z.literal(slope))).default(12),
});

/** One effect of a chain: what goes in is put through it, and mixed with it. */
export const effectSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('equalizer'),
    id,
    on,
    bands: z
      .array(band)
      .length(EQUALIZER_BANDS)
      .default(() => Array.from({ length: EQUALIZER_BANDS }, () => band.parse({}))),
    ...shapeOf(effectParameters.equalizer),
  }),
  z.object({
    kind: z.literal('drive'),
    id,
    on,
    curve: z.enum(shaperCurves).default('soft'),
    drawnCurve: drawnLine([-1, 1], [-1, 1]).default([
      { x: -1, y: -1 },
      { x: 1, y: 1 },
    ]),
    /** Where its own low-pass stands: a filter before a drive sings, one behind it dulls. */
    tone: z.enum(['before', 'behind']).default('behind'),
    /** Whether it comes out as loud as it went in. */
    matchLevel: z.boolean().default(false),
    ...shapeOf(effectParameters.drive),
  }),
  z.object({
    kind: z.literal('compressor'),
    id,
    on,
    detector: z.enum(['peak', 'rms']).default('peak'),
    autoMakeUp: z.boolean().default(false),
    /** Heard in place of what goes through it. */
    keyLayerId,
    ...shapeOf(effectParameters.compressor),
  }),
  z.object({ kind: z.literal('reducer'), id, on, ...shapeOf(effectParameters.reducer) }),
  z.object({ kind: z.literal('multiband'), id, on, ...shapeOf(effectParameters.multiband) }),
  z.object({ kind: z.literal('limiter'), id, on, ...shapeOf(effectParameters.limiter) }),
  z.object({ kind: z.literal('chorus'), id, on, ...shapeOf(effectParameters.chorus) }),
  z.object({
    kind: z.literal('delay'),
    id,
    on,
    /** In place of the times in seconds. */
    leftDivision: optionalDivision,
    rightDivision: optionalDivision,
    /** What comes in begins on the left, and every repeat changes sides. */
    pingPong: z.boolean().default(false),
    /** A new time is reached by running faster or slower, as on tape, in place of a fade. */
    bends: z.boolean().default(false),
    ...shapeOf(effectParameters.delay),
  }),
  z.object({ kind: z.literal('reverb'), id, on, ...shapeOf(effectParameters.reverb) }),
  z.object({
    kind: z.literal('tremolo'),
    id,
    on,
    shape: z.enum(lfoShapes).default('sine'),
    /** One turn, where it is drawn: 1 at the top. */
    drawnTurn: drawnLine([0, 1], [0, 1]).default([
      { x: 0, y: 1 },
      { x: 0.5, y: 0 },
      { x: 1, y: 1 },
    ]),
    /** In place of the rate. */
    division: optionalDivision,
    ...shapeOf(effectParameters.tremolo),
  }),
  z.object({ kind: z.literal('flanger'), id, on, ...shapeOf(effectParameters.flanger) }),
  z.object({ kind: z.literal('phasing'), id, on, ...shapeOf(effectParameters.phasing) }),
  z.object({ kind: z.literal('widener'), id, on, ...shapeOf(effectParameters.widener) }),
  z.object({ kind: z.literal('ringModulator'), id, on, tuning, ...shapeOf(effectParameters.ringModulator) }),
  z.object({
    kind: z.literal('frequencyShifter'),
    id,
    on,
    /** Whether the right side is shifted the other way. */
    opposite: z.boolean().default(false),
    ...shapeOf(effectParameters.frequencyShifter),
  }),
  z.object({ kind: z.literal('pitchShifter'), id, on, ...shapeOf(effectParameters.pitchShifter) }),
  z.object({
    kind: z.literal('vocoder'),
    id,
    on,
    /** What gives its spectrum: a layer, else a sample of the patch, else what goes through it. */
    keyLayerId,
    sampleId: id.nullable().default(null),
    /** Whether it is lifted to the level of what goes through. */
    makeUp: z.boolean().default(true),
    ...shapeOf(effectParameters.vocoder),
  }),
  z.object({ kind: z.literal('vowelFilter'), id, on, ...shapeOf(effectParameters.vowelFilter) }),
  z.object({
    kind: z.literal('resonator'),
    id,
    on,
    tuning,
    /** Odd partials only, as in a pipe closed at one end. */
    hollow: z.boolean().default(false),
    ...shapeOf(effectParameters.resonator),
  }),
  z.object({ kind: z.literal('grainDelay'), id, on, ...shapeOf(effectParameters.grainDelay) }),
  z.object({
    kind: z.literal('ducker'),
    id,
    on,
    key: z.enum(duckerKeys).default('pattern'),
    /** Sixteenths that are struck, over a bar of four quarters. */
    pattern: z.array(z.boolean()).length(PATTERN_STEPS).default(fourBeats),
    /** The drawn line is run through once in this time: 1 at its top, down by the depth at 0. */
    division: division.default('1/4'),
    curve: drawnLine([0, 1], [0, 1]).default([
      { x: 0, y: 0 },
      { x: 0.2, y: 0.15 },
      { x: 0.6, y: 1 },
      { x: 1, y: 1 },
    ]),
    keyLayerId,
    ...shapeOf(effectParameters.ducker),
  }),
  z.object({
    kind: z.literal('cabinet'),
    id,
    on,
    cabinet: z.enum(cabinetKinds).default('openBack'),
    ...shapeOf(effectParameters.cabinet),
  }),
  z.object({
    kind: z.literal('stereo'),
    id,
    on,
    turnLeft: z.boolean().default(false),
    turnRight: z.boolean().default(false),
    /** Whether a constant is taken away. */
    removeDc: z.boolean().default(false),
    ...shapeOf(effectParameters.stereo),
  }),
]);

export const MAX_EFFECTS = 16;
export const chainSchema = z.array(effectSchema).max(MAX_EFFECTS).default([]);
