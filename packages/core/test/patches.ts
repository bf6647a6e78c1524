import { parametersOf } from '../src/parameters/table';
import type { ModuleKind } from '../src/parameters/table';
import { emptyPatch } from '../src/patch/defaults';
import { PER_UNISON_VOICE, modulesOf, targetOf } from '../src/patch/modules';
import { lfoShapes, shaperCurves } from '../src/parameters/shapes';
import { lfoSchema, modulatorSchema, noteValues, routeSchema } from '../src/patch/schemas/modulatorSchema';
import { sampleFromChannels } from '../src/patch/contents/samplePcm';
import {
  type Effect,
  type Layer,
  type Patch,
  type ShapeName,
  type Source,
  layerSchema,
  macroSchema,
} from '../src/patch/schema';
import { filterKinds, filterSchema, shaperSchema } from '../src/patch/schemas/shapingSchema';
import {
  destinations,
  interactionSchema,
  phaseShapes,
  shapeNames,
  sourceSchema,
  tunings,
} from '../src/patch/schemas/sourceSchema';
import { randomEffect } from './randomChains';
import { wavetableFromSamples } from '../src/patch/contents/wavetableFrames';

/** One plain shape, no filter, no contour: what an oscillator makes by itself. */
export function plainPatch(shape: ShapeName, fields: Record<string, unknown> = {}): Patch {
  return sourcePatch({ kind: 'shape', shape, ...fields });
}

/** One source, no filter, no contour. */
export function sourcePatch(...sources: Record<string, unknown>[]): Patch {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  layer.levelDb = 0;
  layer.sources = sources.map((source, i) => sourceSchema.parse({ id: `source-${i + 1}`, ...source }));
  layer.filters[0].on = false;
  layer.amp = { ...layer.amp, attackSeconds: 0, sustainDb: 0, releaseSeconds: 0.05 };
  return patch;
}

/** A patch with anything anywhere that the schema allows, from a series of random numbers. */
export function randomPatch(random: () => number): Patch {
  const whole = (most: number) => Math.floor(random() * (most + 1));
  const pick = <T>(values: readonly T[]) => values[Math.floor(random() * values.length)];
  const chance = (share: number) => random() < share;
  const anywhere = (kind: ModuleKind) =>
    Object.fromEntries(
      Object.entries(parametersOf(kind)).map(([name, { min, max, step }]) => {
        // The ends of a range are where things break: they come up often.
        const at = random();
        const value = at < 0.15 ? min : at > 0.85 ? max : min + random() * (max - min);
        return [name, step >= 1 ? Math.round(value) : value];
      }),
    );
  const randomEffects = (prefix: string): Effect[] =>
    Array.from({ length: chance(0.5) ? 0 : whole(4) }, (_, i) => randomEffect(random, `${prefix}${i}`));
  const noise = (length: number) => Float32Array.from({ length }, () => 2 * random() - 1);

  const source = (_: unknown, i: number): Source => {
    const kind = pick(['shape', 'shape', 'wavetable', 'partials', 'noise', 'sample'] as const);
    return sourceSchema.parse({
      kind,
      id: `s${i}`,
      on: chance(0.9),
      into: pick(destinations),
      tuning: pick(tunings),
      phaseShape: pick(phaseShapes),
      drawnPhase: [
        { x: 0, y: random() },
        { x: 0.5, y: random() },
        { x: 1, y: random() },
      ],
      shape: pick(shapeNames),
      wavetableId: 'table-1',
      sampleId: 'sample-1',
      loop: chance(0.5),
      reverse: chance(0.5),
      restart: pick(['note', 'free']),
      levelsDb: Array.from({ length: 1 + whole(255) }, () => -96 * random()),
      phasesCycles: Array.from({ length: whole(255) }, random),
      ...anywhere(kind),
    });
  };

  const sources = Array.from({ length: 1 + whole(3) }, source);
  const periodic = sources.filter(({ kind }) => kind !== 'noise' && kind !== 'sample');
  const interactions = Array.from({ length: whole(3) }, (_, i) => {
    const kind = pick(periodic.length > 0 ? (['fm', 'ring', 'ringTone'] as const) : (['ring', 'ringTone'] as const));
    const to = pick(kind === 'fm' ? periodic : sources).id;
    return interactionSchema.parse({
      kind,
      id: `i${i}`,
      from: pick(sources).id,
      to,
      tuning: pick(['fixed', 'ratio']),
      ...anywhere(kind),
    });
  });
  const filter = (id: string) => {
    const kind = pick(filterKinds);
    const slopeDbPerOctave = kind === 'bandpass' ? pick([12, 24]) : pick([6, 12, 18, 24]);
    const polarity = pick(['positive', 'negative']);
    return filterSchema.parse({ kind, id, on: chance(0.8), slopeDbPerOctave, polarity, ...anywhere(kind) });
  };
  const modulators = Array.from({ length: whole(4) }, (_, i) => {
    const kind = pick(['envelope', 'contour', 'lfo', 'note'] as const);
    return modulatorSchema.parse({
      kind,
      id: `m${i}`,
      name: `Modulator ${i}`,
      loop: chance(0.3),
      of: pick(noteValues),
      shape: pick(lfoShapes),
      division: chance(0.3) ? pick(['1/16', '1/8.', '1/4t', '2 bars']) : null,
      run: pick(['loop', 'oneShot']),
      restart: pick(['note', 'free']),
      points:
        kind === 'lfo'
          ? [0, 0.3, 0.8].map((at) => ({ at, value: random(), bend: 200 * random() - 100 }))
          : [0, 0.05, 0.2].map((seconds) => ({ seconds, value: 2 * random() - 1 })),
      ...anywhere(kind),
    });
  });

  const draft: Layer = layerSchema.parse({
    id: 'layer-1',
    name: 'Layer',
    ...anywhere('layer'),
    voice: {
      mode: pick(['poly', 'mono', 'legato']),
      glide: pick(['never', 'always', 'overlap']),
      glideBy: pick(['time', 'octave']),
      ...anywhere('voice'),
    },
    sources,
    interactions,
    filters: [filter('f1'), filter('f2')],
    filterOrder: pick(['series', 'parallel']),
    shaper: shaperSchema.parse({
      id: 'shaper',
      on: chance(0.5),
      curve: pick(shaperCurves),
      drawnCurve: [-1, 0, 1].map((x) => ({ x, y: 2 * random() - 1 })),
      ...anywhere('shaper'),
    }),
    effects: randomEffects('e'),
    amp: { kind: 'envelope', id: 'amp', name: 'Amp', loop: chance(0.1), ...anywhere('envelope') },
    modulators,
    routes: [],
  });
  const macros = [macroSchema.parse({ id: 'macro-1', name: 'Macro', ...anywhere('macro') })];
  for (let i = 0; i < 8; i++) {
    const from = pick([...modulators, ...macros]);
    const onRoute = draft.routes.length > 0 && chance(0.2);
    const module = pick(modulesOf(draft));
    const moving = Object.entries(parametersOf(module.kind)).filter(([, parameter]) => parameter.routing);
    if (!onRoute && moving.length === 0) continue;
    const to = onRoute
      ? { moduleId: pick(draft.routes).id, parameter: 'amount' }
      : { moduleId: module.id, parameter: pick(moving)[0] };
    const target = targetOf(draft, to);
    if (typeof target === 'string') continue;
    const perVoice = 'of' in from && from.of === 'unison';
    if (perVoice && !(sources.some(({ id }) => id === to.moduleId) && PER_UNISON_VOICE.has(to.parameter))) continue;
    const { min, max } = target.parameter.routing!;
    const amount = Math.max(-200, Math.min(200, min + random() * (max - min)));
    const polarity = pick(['unipolar', 'bipolar']);
    draft.routes.push(routeSchema.parse({ id: `r${i}`, on: chance(0.9), from: from.id, to, amount, polarity }));
  }
  return {
    ...emptyPatch(),
    layers: [draft],
    effects: randomEffects('last'),
    macros,
    wavetables: [wavetableFromSamples('table-1', 'Random', noise(3 * 2048))],
    samples: [sampleFromChannels('sample-1', 'Random', 44100, [noise(3000), noise(3000)])],
  };
}

/** An LFO with what is not given at its default. */
export const lfo = (id: string, fields: Record<string, unknown> = {}) =>
  lfoSchema.parse({ kind: 'lfo', id, name: id, ...fields });

export const route = (from: string, moduleId: string, parameter: string, amount: number, fields = {}) =>
  routeSchema.parse({
    id: `${from}-${moduleId}-${parameter}`.slice(0, 40),
    from,
    to: { moduleId, parameter },
    amount,
    ...fields,
  });
