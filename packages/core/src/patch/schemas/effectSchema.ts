import { z } from 'zod';
import {
  type Band,
  type BandKind,
  type Bands,
  type Choice,
  type Division,
  type Line,
  type OneOf,
  type OptionalDivision,
  type OtherLayer,
  type Pattern,
  type PlayedSample,
  type Switch,
  bandTitles,
  cutSlopes,
} from '../../parameters/effects/choices';
import type { Choices, EffectDescriptor, Parameters } from '../../parameters/effects/defineEffect';
import { type EffectKind, effects } from '../../parameters/effects';
import { division, drawnLine, id, on, ownName, shapeOf } from './schemaParts';

const bandKinds = Object.keys(bandTitles) as [BandKind, ...BandKind[]];

const band = z.object({
  kind: z.enum(bandKinds).default('off'),
  /** Of cuts. */
  slopeDbPerOctave: z.union(cutSlopes.map((slope) => z.literal(slope))).default(12),
});

type SchemaOfChoice<C extends Choice> =
  C extends OneOf<infer N>
    ? z.ZodDefault<z.ZodEnum<{ [K in N]: K }>>
    : C extends Switch
      ? z.ZodDefault<z.ZodBoolean>
      : C extends Division
        ? z.ZodDefault<z.ZodString>
        : C extends OptionalDivision | OtherLayer | PlayedSample
          ? z.ZodDefault<z.ZodNullable<z.ZodString>>
          : C extends Line
            ? z.ZodDefault<ReturnType<typeof drawnLine>>
            : C extends Pattern
              ? z.ZodDefault<z.ZodArray<z.ZodBoolean>>
              : C extends Bands
                ? z.ZodDefault<z.ZodArray<typeof band>>
                : never;

type ShapeOfChoices<C extends Choices> = { [N in keyof C]: SchemaOfChoice<C[N]> };

function schemaOfChoice(choice: Choice): z.ZodType {
  switch (choice.of) {
    case 'oneOf':
      return z.enum(Object.keys(choice.titles)).default(choice.default);
    case 'switch':
      return z.boolean().default(choice.default);
    case 'division':
      return division.default(choice.default);
    case 'optionalDivision':
      return division.nullable().default(null);
    case 'layer':
    case 'sample':
      return id.nullable().default(null);
    case 'line':
      return drawnLine([...choice.x], [...choice.y]).default(() => choice.default.map((point) => ({ ...point })));
    case 'pattern':
      return z
        .array(z.boolean())
        .length(choice.default.length)
        .default(() => [...choice.default]);
    case 'bands':
      return z
        .array(band)
        .length(choice.count)
        .default(() => Array.from({ length: choice.count }, (): Band => band.parse({})));
  }
}

/** The schema of a kind of effect, by what its descriptor says that it can be set to. */
function schemaOf<K extends string, P extends Parameters, C extends Choices>({
  kind,
  parameters,
  choices,
}: EffectDescriptor<K, P, C>) {
  const chosen = Object.fromEntries(
    Object.entries(choices).map(([name, choice]) => [name, schemaOfChoice(choice)]),
  ) as ShapeOfChoices<C>;
  return z.object({ kind: z.literal(kind), id, on, name: ownName, ...chosen, ...shapeOf(parameters) });
}

const schemas = {
  equalizer: schemaOf(effects.equalizer),
  drive: schemaOf(effects.drive),
  compressor: schemaOf(effects.compressor),
  reducer: schemaOf(effects.reducer),
  multiband: schemaOf(effects.multiband),
  limiter: schemaOf(effects.limiter),
  chorus: schemaOf(effects.chorus),
  delay: schemaOf(effects.delay),
  reverb: schemaOf(effects.reverb),
  tremolo: schemaOf(effects.tremolo),
  flanger: schemaOf(effects.flanger),
  phaser: schemaOf(effects.phaser),
  widener: schemaOf(effects.widener),
  ringModulator: schemaOf(effects.ringModulator),
  frequencyShifter: schemaOf(effects.frequencyShifter),
  pitchShifter: schemaOf(effects.pitchShifter),
  vocoder: schemaOf(effects.vocoder),
  vowelFilter: schemaOf(effects.vowelFilter),
  resonator: schemaOf(effects.resonator),
  grainDelay: schemaOf(effects.grainDelay),
  ducker: schemaOf(effects.ducker),
  cabinet: schemaOf(effects.cabinet),
  stereo: schemaOf(effects.stereo),
} satisfies { readonly [K in EffectKind]: z.ZodObject };

type EffectSchema = (typeof schemas)[EffectKind];

/** One effect of a chain: what goes in is put through it, and mixed with it. */
export const effectSchema = z.discriminatedUnion('kind', Object.values(schemas) as [EffectSchema, ...EffectSchema[]]);

export const MAX_EFFECTS = 16;
export const chainSchema = z.array(effectSchema).max(MAX_EFFECTS).default([]);
