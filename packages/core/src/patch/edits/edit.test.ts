import { lfo, route } from '../../../test/patches';
import { auditionedPatch } from './audition';
import { emptyPatch } from '../defaults';
import {
  addInteraction,
  addLayer,
  addModulator,
  addRoute,
  addSource,
  changeFilterKind,
  dropUnused,
  duplicateSource,
  freeId,
  moved,
  pasteModulator,
  removeFromLayer,
  removeLayer,
  setFields,
} from './edit';
import { targetOf } from '../modules';
import { parsePatch } from '../parse';
import type { Layer, Patch } from '../schema';
import { wavetableFromSamples } from '../contents/wavetableFrames';

const layerOf = (patch: Patch) => patch.layers[0];
const withLayer = (layer: Layer): Patch => ({ ...emptyPatch(), layers: [layer] });
/** Every edit must leave a patch that plays. */
const stillPlays = (layer: Layer) => expect(parsePatch(withLayer(layer))).toEqual(withLayer(layer));

/** Two sources that modulate each other, an LFO on everything, and a route that moves a route. */
function busyLayer(): Layer {
  let layer = layerOf(emptyPatch());
  [layer] = addSource(layer, 'shape', { shape: 'sine' });
  [layer] = addInteraction(layer, 'fm', 'source-1', 'source-2');
  layer = { ...layer, modulators: [...layer.modulators, lfo('lfo-1')] };
  layer.routes.push(
    route('lfo-1', 'source-2', 'semitones', 1),
    route('lfo-1', 'fm-1', 'index', 2),
    route('filter-contour', 'lfo-1-source-2-semitones', 'amount', 1),
  );
  return layer;
}

describe('Adding', () => {
  it('gives every part an id of its own', () => {
    expect(freeId('source', new Set(['source-1', 'source-3']))).toBe('source-2');
    const [layer, id] = addSource(layerOf(emptyPatch()), 'noise');
    expect(id).toBe('source-2');
    stillPlays(layer);
  });

  it.each(['shape', 'partials', 'noise'] as const)('a %s source plays', (kind) =>
    stillPlays(addSource(layerOf(emptyPatch()), kind)[0]),
  );

  it.each(['envelope', 'lfo', 'velocity', 'unison', 'counter'] as const)('a modulator of kind %s plays', (what) =>
    stillPlays(addModulator(layerOf(emptyPatch()), what)[0]),
  );

  it('routes from an LFO go both ways, from an envelope one way', () => {
    const layer = busyLayer();
    const polarity = (from: string) =>
      addRoute(layer, from, { moduleId: 'source-1', parameter: 'levelDb' }, 1)[0].routes.at(-1)!.polarity;
    expect(polarity('lfo-1')).toBe('bipolar');
    expect(polarity('filter-contour')).toBe('unipolar');
  });

  it('a duplicate stands behind its original and is its equal', () => {
    const [layer, id] = duplicateSource(busyLayer(), 'source-1');
    expect(layer.sources.map((source) => source.id)).toEqual(['source-1', id, 'source-2']);
    expect({ ...layer.sources[1], id: '' }).toEqual({ ...layer.sources[0], id: '' });
    stillPlays(layer);
  });

  it('a pasted modulator has a new id', () => {
    const [layer, id] = pasteModulator(busyLayer(), lfo('lfo-1', { rateHz: 7 }));
    expect(id).toBe('lfo-2');
    stillPlays(layer);
  });

  it('a layer can start from a copy of another', () => {
    const [patch, id] = addLayer(withLayer(busyLayer()), busyLayer());
    expect(id).toBe('layer-2');
    expect(patch.layers[1].sources).toEqual(patch.layers[0].sources);
    expect(parsePatch(patch)).toEqual(patch);
  });
});

describe('Removing', () => {
  it.each(['source-1', 'source-2', 'fm-1', 'lfo-1', 'filter-contour', 'lfo-1-source-2-semitones'])(
    '%s takes everything that refers to it along',
    (id) => {
      const layer = removeFromLayer(busyLayer(), id);
      expect(JSON.stringify(layer)).not.toContain(`"${id}"`);
      stillPlays(layer);
    },
  );

  it('the last layer stays, and tables go with the last source that plays them', () => {
    const patch = withLayer(busyLayer());
    expect(removeLayer(patch, 'layer-1')).toBe(patch);
    const [two, id] = addLayer(patch);
    two.wavetables = [wavetableFromSamples('t', 'T', new Float32Array(2048))];
    two.layers[1] = addSource(two.layers[1], 'wavetable', { wavetableId: 't' })[0];
    expect(dropUnused(two).wavetables).toHaveLength(1);
    expect(removeLayer(two, id).wavetables).toHaveLength(0);
  });
});

it('moves elements of a list', () => {
  expect(moved(['a', 'b', 'c'], 0, 2)).toEqual(['b', 'c', 'a']);
  expect(moved(['a', 'b', 'c'], 2, 0)).toEqual(['c', 'a', 'b']);
});

it.each(['bandpass', 'ladder', 'comb', 'formant', 'lowpassNotch', 'peak'] as const)(
  'a filter becomes a %s, keeps its cutoff where there is one, and loses routes to what is gone',
  (kind) => {
    const layer = setFields(busyLayer(), 'filter-1', { cutoffHz: 777, slopeDbPerOctave: 18 });
    layer.routes.push(route('lfo-1', 'filter-1', 'resonanceDb', 3));
    const changed = changeFilterKind(layer, 'filter-1', kind);
    if ('cutoffHz' in changed.filters[0]) expect(changed.filters[0].cutoffHz).toBe(777);
    stillPlays(changed);
  },
);

describe('Audition', () => {
  const patch = withLayer(busyLayer());
  const solo = (moduleId: string | null) =>
    auditionedPatch(patch, { solo: { layerId: 'layer-1', moduleId }, exaggerated: null }).layers[0];

  it('without anything is the very patch', () => {
    expect(auditionedPatch(patch, { solo: null, exaggerated: null })).toBe(patch);
  });
  it('of a source silences the others, which still modulate', () => {
    const layer = solo('source-1');
    expect(layer.sources.map(({ levelDb }) => levelDb)).toEqual([0, -96]);
    expect(layer.interactions[0].on).toBe(true);
  });
  it('of a filter switches the other shaping off', () => {
    expect(solo('filter-1').filters.map(({ on }) => on)).toEqual([true, false]);
  });
  it('of a modulator leaves only its routes', () => {
    expect(
      solo('lfo-1')
        .routes.filter(({ on }) => on)
        .map(({ from }) => from),
    ).toEqual(['lfo-1', 'lfo-1']);
  });
  it('of a layer switches the others off', () => {
    const [two] = addLayer(patch);
    const heard = auditionedPatch(two, { solo: { layerId: 'layer-2', moduleId: null }, exaggerated: null });
    expect(heard.layers.map(({ on }) => on)).toEqual([false, true]);
  });
  it('exaggerates a route, or all routes of a modulator, threefold', () => {
    const amounts = (id: string) =>
      auditionedPatch(patch, { solo: null, exaggerated: { layerId: 'layer-1', id } }).layers[0].routes.map(
        (r) => r.amount,
      );
    expect(amounts('lfo-1')).toEqual([0, 3, 6, 1]);
    expect(amounts('lfo-1-source-2-semitones')[1]).toBe(3);
  });
});

it('says why a target cannot be moved', () => {
  const layer = busyLayer();
  expect(targetOf(layer, { moduleId: 'nobody', parameter: 'x' })).toContain('no part of its layer');
  expect(targetOf(layer, { moduleId: 'filter-1', parameter: 'keyTracking' })).toContain('nothing that moves');
  const deep = { moduleId: layer.routes.at(-1)!.id, parameter: 'amount' };
  expect(targetOf(layer, deep)).toContain('moves an amount itself');
});
