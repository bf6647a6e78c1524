import { lfo, route } from '../../../test/patches';
import { addEffect } from '../edits/chains';
import { changeSummary, changeWords } from './changeWords';
import { emptyPatch } from '../defaults';
import { addLayer, addSource, changeFilterKind, setFields } from '../edits/edit';
import { type PackedPatch } from '../contents/packing';
import { type Layer, type Patch, macroSchema } from '../schema';

const packed = (patch: Patch) => patch as unknown as PackedPatch;
const words = (before: Patch, after: Patch) => changeWords(packed(before), packed(after));
const inLayer = (change: (layer: Layer) => Layer) => {
  const patch = emptyPatch();
  return words(patch, { ...patch, layers: patch.layers.map(change) });
};

describe('What changed in a patch is told', () => {
  it.each<[string, (layer: Layer) => Layer, string[]]>([
    [
      'a number',
      (layer) => setFields(layer, layer.filters[0].id, { cutoffHz: 300 }),
      ['Low-pass, cutoff at rest 20 kHz → 300 Hz'],
    ],
    ['a source that came', (layer) => addSource(layer, 'noise')[0], ['Noise added']],
    ['a source that became another', (layer) => setFields(layer, 'source-1', { shape: 'sine' }), ['Saw becomes Sine']],
    ['a filter of another kind', (layer) => changeFilterKind(layer, 'filter-1', 'notch'), ['Low-pass becomes Notch']],
    ['a name', (layer) => setFields(layer, 'source-1', { name: 'Body' }), ['Saw is called Body']],
    [
      'a switch',
      (layer) => ({ ...layer, filters: [{ ...layer.filters[0], on: false }, layer.filters[1]] }),
      ['Low-pass off'],
    ],
    ['a choice', (layer) => setFields(layer, 'source-1', { into: 'past' }), ['Saw set otherwise']],
    [
      'how notes follow',
      (layer) => ({ ...layer, voice: { ...layer.voice, mode: 'legato', glideSeconds: 0.1 } }),
      ['notes, glide 0 ms → 100 ms', 'notes play legato'],
    ],
    [
      'the layer itself',
      (layer) => ({ ...layer, semitones: -12, name: 'Sub' }),
      ['Layer 1 is called Sub', 'Layer, layer pitch 0 st → −12 st'],
    ],
  ])('%s', (_what, change, expected) => expect(inLayer(change)).toEqual(expected));

  it('routes, and how far they go', () => {
    const patch = emptyPatch();
    const [layer] = patch.layers;
    layer.modulators = [lfo('lfo-1', { name: 'Sway' })];
    layer.routes = [];
    const with_ = (amount: number): Patch => ({
      ...patch,
      layers: [{ ...layer, routes: [route('lfo-1', 'source-1', 'semitones', amount)] }],
    });
    expect(words(patch, with_(2))).toEqual(['Sway to Saw, semitones added']);
    expect(words(with_(2), with_(7))).toEqual(['Sway to Saw, semitones +2 st → +7 st']);
    expect(words(with_(2), patch)).toEqual(['Sway to Saw, semitones removed']);
  });

  it('layers by their names, once there are several', () => {
    const patch = emptyPatch();
    const [two, id] = addLayer(patch, undefined);
    expect(words(patch, two)).toEqual(['Layer 2 added']);
    const louder = { ...two, layers: two.layers.map((one) => (one.id === id ? { ...one, levelDb: -3 } : one)) };
    expect(words(two, louder)[0]).toMatch(/^Layer 2: Layer, layer level .* → −3 dB$/);
  });

  it('chains of the patch, macros and the tempo', () => {
    const patch = emptyPatch();
    const [chained] = addEffect(patch, { of: 'patch' }, 'reverb');
    expect(words(patch, chained)).toEqual(['Reverb added']);
    const macros = [macroSchema.parse({ id: 'macro-1', name: 'Storm' })];
    expect(words({ ...patch, macros }, { ...patch, macros: [{ ...macros[0], value: 40 }] })).toEqual([
      'Storm, value 0 % → 40 %',
    ]);
    expect(words(patch, { ...patch, bpm: 96 })).toEqual(['tempo 120 BPM → 96 BPM']);
  });

  it('in one line, of which the rest is counted', () => {
    const patch = emptyPatch();
    expect(changeSummary(packed(patch), packed(patch))).toBeUndefined();
    const [layer] = patch.layers;
    const times = { attackSeconds: 0.1, decaySeconds: 1, releaseSeconds: 2, sustainDb: -6 };
    const after = { ...patch, layers: [{ ...layer, amp: { ...layer.amp, ...times } }] };
    expect(changeSummary(packed(patch), packed(after))).toBe(
      'Amp contour, attack 2 ms → 100 ms; Amp contour, decay 300 ms → 1 s; 2 more',
    );
  });
});
