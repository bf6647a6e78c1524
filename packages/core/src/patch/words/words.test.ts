import { lfo, route } from '../../../test/patches';
import { addEffect } from '../edits/chains';
import { emptyPatch } from '../defaults';
import { macroSchema } from '../schema';
import { addInteraction, addSource } from '../edits/edit';
import { modulatorWords } from './modulators';
import { filterKinds, filterSchema } from '../schemas/shapingSchema';
import { chainTitles, filterTitle, layerTitles, moduleTitle, polarityWords, targetTitle } from './words';

const patch = emptyPatch();
let [layer] = patch.layers;
[layer] = addSource(layer, 'shape', { shape: 'sine' });
[layer] = addInteraction(layer, 'fm', 'source-1', 'source-2');
[layer] = addInteraction(layer, 'fm', 'source-2', 'source-2');
[layer] = addInteraction(layer, 'ringTone', 'source-1', undefined);
layer.modulators.push(lfo('lfo-1'));
layer.routes.push(route('lfo-1', 'source-2', 'semitones', 1));

it('sources and what joins them', () => {
  expect(layer.sources.map(({ id }) => layerTitles(layer).get(id))).toEqual(['Saw', 'Sine']);
  expect(layer.interactions.map(({ id }) => layerTitles(layer).get(id))).toEqual([
    'FM, sine into saw',
    'FM feedback, sine',
    'Ring tone with saw',
  ]);
});

it('every kind of filter has a name, with its slope where it has one', () => {
  const titles = filterKinds.map((kind) => filterTitle(filterSchema.parse({ kind, id: 'f' })));
  expect(new Set(titles).size).toBe(filterKinds.length);
  expect(titles).toContain('Low-pass, 24 dB per octave');
  expect(titles).toContain('Ladder low-pass, 24 dB per octave');
  expect(titles).toContain('Vowel');
});

it('modules by their ids', () => {
  const ids = ['source-2', 'fm-1', 'filter-1', 'shaper', 'amp', 'lfo-1', 'layer'];
  expect(ids.map((id) => moduleTitle(layer, id))).toEqual([
    'Sine',
    'FM, sine into saw',
    'Low-pass',
    'Shaper',
    'Amp contour',
    'lfo-1',
    'Layer',
  ]);
});

it('where routes go, also into one another', () => {
  const [last] = layer.routes.slice(-1);
  expect(targetTitle(layer, last)).toBe('Sine, semitones');
  expect(targetTitle(layer, { to: { moduleId: last.id, parameter: 'amount' } })).toBe('amount of Sine, semitones');
});

it('movements and their polarity', () => {
  expect(layer.modulators.map(modulatorWords)).toEqual(['envelope', 'LFO, sine']);
  expect(polarityWords('unipolar', '+24 st')).toBe('unipolar: from 0 to +24 st');
  expect(polarityWords('bipolar', '+24 st')).toBe('bipolar: +24 st either way');
});

it('twins are numbered, what has a name of its own is called so, and macros by theirs', () => {
  let twins = emptyPatch().layers[0];
  [twins] = addSource(twins, 'shape', { shape: 'saw' });
  [twins] = addSource(twins, 'shape', { shape: 'saw', name: 'Hum' });
  [twins] = addInteraction(twins, 'fm', 'source-2', 'source-1');
  const titles = layerTitles(twins, { ...patch, macros: [macroSchema.parse({ id: 'macro-1', name: 'Storm' })] });
  expect(['source-1', 'source-2', 'source-3', 'fm-1', 'macro-1'].map((id) => titles.get(id))).toEqual([
    'Saw 1',
    'Saw 2',
    'Hum',
    'FM, saw 1 into saw 2',
    'Storm',
  ]);
});

it('effects of one kind are numbered in their chain', () => {
  const [first] = addEffect(emptyPatch(), { of: 'patch' }, 'delay');
  const [second] = addEffect(first, { of: 'patch' }, 'delay');
  const [{ effects }] = addEffect(second, { of: 'patch' }, 'delay', { name: 'Slap' });
  expect([...chainTitles(effects).values()]).toEqual(['Delay 1', 'Delay 2', 'Slap']);
});
