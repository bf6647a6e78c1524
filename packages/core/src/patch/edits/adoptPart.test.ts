import { plainPatch } from '../../../test/patches';
import { renderPatch } from '../../engine/render';
import { type PatchPart, adoptPart, patchParts } from './adoptPart';
import { effectSchema } from '../schemas/effectSchema';
import { lfoSchema, routeSchema } from '../schemas/modulatorSchema';
import { parsePatch } from '../parse';
import type { Layer, Patch } from '../schema';
import { wavetableFromSamples } from '../contents/wavetableFrames';

const route = (id: string, from: string, moduleId: string, parameter: string, amount: number) =>
  routeSchema.parse({ id, from, to: { moduleId, parameter }, amount, polarity: 'unipolar' });

/** Two patches whose parts all differ, under the same ids. */
function patchWith(shape: 'saw' | 'pulse', cutoffHz: number, rateHz: number, delaySeconds: number): Patch {
  const patch = plainPatch(shape);
  const [layer] = patch.layers;
  layer.filters[0] = { ...layer.filters[0], on: true, cutoffHz } as Layer['filters'][0];
  layer.amp.attackSeconds = delaySeconds / 10;
  layer.modulators = [
    ...layer.modulators.filter(({ id }) => id !== 'lfo-1'),
    lfoSchema.parse({ kind: 'lfo', id: 'lfo-1', name: 'Swing', rateHz }),
    lfoSchema.parse({ kind: 'lfo', id: 'lfo-2', name: 'Sway', rateHz: rateHz / 2 }),
  ];
  layer.routes = [
    route('r-cutoff', 'lfo-1', 'filter-1', 'cutoffHz', 12),
    route('r-amount', 'lfo-2', 'r-cutoff', 'amount', 3),
    route('r-level', 'lfo-2', 'layer', 'levelDb', -3),
    route('r-pitch', 'lfo-1', layer.sources[0].id, 'semitones', 0.2),
  ];
  layer.effects = [effectSchema.parse({ kind: 'delay', id: 'echo', leftSeconds: delaySeconds })];
  return patch;
}

const own = patchWith('saw', 500, 2, 0.1);
const other = patchWith('pulse', 3000, 5, 0.4);
const [{ id: layerId }] = own.layers;
const adopted = (part: PatchPart, from = other): Layer =>
  parsePatch(JSON.parse(JSON.stringify(adoptPart(own, layerId, from, part)))).layers[0];

/** What a part is told by. */
const traces: Record<PatchPart, (layer: Layer) => unknown> = {
  sources: ({ sources: [source] }) => 'shape' in source && source.shape,
  filter: ({ filters: [filter] }) => 'cutoffHz' in filter && filter.cutoffHz,
  movement: ({ amp }) => amp.attackSeconds,
  effects: ({ effects: [effect] }) => 'leftSeconds' in effect && effect.leftSeconds,
};

it.each(patchParts)('takes over only the %s', (part) => {
  const layer = adopted(part);
  for (const one of patchParts) expect(traces[one](layer)).toEqual(traces[one]((one === part ? other : own).layers[0]));
});

it.each(patchParts)('of %s leaves a patch that plays', (part) => {
  const patch = adoptPart(own, layerId, other, part);
  const notes = [{ onsetSeconds: 0, durationSeconds: 0.2, midi: 57, velocity: 100 }];
  const [left] = renderPatch({ patch, notes, sampleRateHz: 44100, seconds: 0.3 });
  expect(left.every(Number.isFinite)).toBe(true);
  expect(left.some((x) => Math.abs(x) > 0.01)).toBe(true);
});

it('brings what moves a part along, and what moves that, and leaves what moves the rest as it is', () => {
  const { routes, modulators } = adopted('filter');
  const rateOf = (id: string) => modulators.find((one) => one.id === id && one.kind === 'lfo');
  const toCutoff = routes.find(({ to }) => to.parameter === 'cutoffHz')!;
  expect(rateOf(toCutoff.from)).toMatchObject({ rateHz: 5 });
  const toAmount = routes.find(({ to }) => to.parameter === 'amount')!;
  expect(toAmount.to.moduleId).toBe(toCutoff.id);
  expect(rateOf(toAmount.from)).toMatchObject({ rateHz: 2.5 });
  const toLevel = routes.find(({ to }) => to.parameter === 'levelDb')!;
  expect(rateOf(toLevel.from)).toMatchObject({ rateHz: 1 });
  expect(new Set(modulators.map(({ id }) => id)).size).toBe(modulators.length);
});

it('brings the wavetable of a source, beside one of the same id that still plays', () => {
  const withTable = (patch: Patch, harmonic: number): Patch => {
    const changed = structuredClone(patch);
    const wave = Float32Array.from({ length: 2048 }, (_, i) => Math.sin((2 * Math.PI * harmonic * i) / 2048));
    changed.wavetables = [wavetableFromSamples('table-1', 'Own', wave)];
    changed.layers[0].sources = [
      { ...changed.layers[0].sources[0], kind: 'wavetable', wavetableId: 'table-1', position: 0 } as never,
    ];
    return parsePatch(JSON.parse(JSON.stringify(changed)));
  };
  const [a, b] = [withTable(own, 1), withTable(other, 3)];
  const patch = adoptPart(a, layerId, b, 'sources');
  expect(patch.wavetables).toHaveLength(1);
  expect(patch.wavetables[0].framesBase64).toBe(b.wavetables[0].framesBase64);
  expect(patch.layers[0].sources[0]).toMatchObject({ wavetableId: patch.wavetables[0].id });
});
