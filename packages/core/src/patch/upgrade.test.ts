import { emptyPatch } from './defaults';
import { parsePatch } from './parse';
import type { Patch } from './schema';
import { upgradePatch } from './upgrade';

/** A patch as version 1 wrote it. */
const versionOne = () => ({
  format: 'imprint-patch',
  version: 1,
  name: 'Old lamp',
  wavetables: [],
  layers: [
    {
      id: 'layer-1',
      name: 'Whole tone',
      on: true,
      levelDb: -3,
      sources: [
        { kind: 'shape', id: 'source-1', on: true, shape: 'saw', levelDb: 0, unisonVoices: 3, unisonDetuneCents: 20 },
        { kind: 'shape', id: 'source-2', on: true, shape: 'sine', levelDb: -6, startPhaseCycles: 0.25 },
      ],
      filter: { kind: 'lowpass', id: 'filter-1', on: true, slopeDbPerOctave: 12, cutoffHz: 300, resonanceDb: 6 },
      amp: { kind: 'envelope', id: 'amp', name: 'Amp contour', attackSeconds: 0.01, decaySeconds: 0.4, sustainDb: -12 },
      modulators: [
        { kind: 'envelope', id: 'filter-contour', name: 'Filter contour' },
        { kind: 'contour', id: 'pitch', name: 'Pitch', points: [{ seconds: 0, value: 0.5 }] },
      ],
      routes: [
        { id: 'r1', on: true, from: 'filter-contour', to: { moduleId: 'filter-1', parameter: 'cutoffHz' }, amount: 24 },
        { id: 'r2', on: true, from: 'pitch', to: { moduleId: 'source-1', parameter: 'semitones' }, amount: 2 },
      ],
    },
  ],
});

describe('A patch of version 1', () => {
  const [layer] = parsePatch(versionOne()).layers;

  it('opens, with its filter as the first of two', () => {
    expect(layer.filters[0]).toMatchObject({ kind: 'lowpass', cutoffHz: 300, resonanceDb: 6, slopeDbPerOctave: 12 });
    expect(layer.filters[1].on).toBe(false);
    expect(layer.shaper.on).toBe(false);
  });

  it('keeps what its routes meant: envelopes one way, contours both ways', () => {
    expect(layer.routes.map(({ polarity }) => polarity)).toEqual(['unipolar', 'bipolar']);
  });

  it('starts its unison voices by chance, and single voices where they were', () => {
    expect(layer.sources.map((source) => 'startPhaseRandom' in source && source.startPhaseRandom)).toEqual([100, 0]);
    expect(layer.sources[1]).toMatchObject({ startPhaseCycles: 0.25 });
  });

  it('keeps the curves of its contours', () => {
    expect(layer.amp).toMatchObject({
      attackCurve: 0,
      decayCurve: 100,
      releaseCurve: 100,
      delaySeconds: 0,
      loop: false,
    });
  });
});

it('the present version is left as it is, and a later one untouched', () => {
  const patch = emptyPatch() as unknown as Record<string, unknown>;
  expect(upgradePatch(patch)).toBe(patch);
  expect(upgradePatch({ version: 99 })).toEqual({ version: 99 });
});

it('what is no patch at all does not make it fall over', () => {
  expect(() => parsePatch({ format: 'imprint-patch', version: 1, layers: 'none' })).toThrow('does not fit its schema');
});

describe('A patch of version 2', () => {
  const versionTwo = () => {
    const patch: Partial<Patch> & Pick<Patch, 'layers'> = emptyPatch();
    delete patch.tempoFrom;
    const [layer] = patch.layers;
    return {
      ...patch,
      version: 2,
      bpm: 120,
      effects: [{ kind: 'vocoder', id: 'shared-1' }],
      groups: [{ id: 'group-1', name: 'Group', effects: [{ kind: 'drive', id: 'shared-2', curve: 'sineFold' }] }],
      layers: [
        {
          ...layer,
          groupId: 'group-1',
          sources: [
            { kind: 'shape', id: 'source-1', phaseShape: 'windowedSync' },
            { kind: 'shape', id: 'source-2', phaseShape: 'bend' },
            { kind: 'noise', id: 'source-3' },
          ],
          filters: [
            { kind: 'bandpass', id: 'filter-1' },
            { kind: 'lowpass', id: 'filter-2' },
          ],
          shaper: { kind: 'shaper', id: 'shaper', curve: 'fold', drawnCurve: layer.shaper.drawnCurve },
        },
      ],
    };
  };

  it('keeps what it sounds like under the new names, and makes up for nothing', () => {
    const { layers, effects, groups, tempoFrom } = parsePatch(versionTwo());
    const [layer] = layers;
    expect(layer.sources.map((source) => 'phaseShape' in source && source.phaseShape)).toEqual([
      'hardSyncFaded',
      'crowded',
      false,
    ]);
    expect(layer.filters[0]).toMatchObject({ kind: 'bandpass', makeUp: false });
    expect(layer.shaper.curve).toBe('straightFold');
    expect(groups[0].effects[0]).toMatchObject({ curve: 'roundFold' });
    expect(effects[0]).toMatchObject({ makeUp: false });
    expect(tempoFrom).toBe('track');
  });

  it('keeps a tempo that somebody has set', () => {
    expect(parsePatch({ ...versionTwo(), bpm: 96 })).toMatchObject({ bpm: 96, tempoFrom: 'hand' });
  });
});

it('a patch of version 3 has its filter and its effect under their new names', () => {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  const old = {
    ...patch,
    version: 3,
    effects: [{ kind: 'phasing', id: 'shared-1' }],
    layers: [
      {
        ...layer,
        filters: [{ kind: 'phaser', id: 'filter-1', stages: 6 }, layer.filters[1]],
        effects: [{ kind: 'phasing', id: 'effect-1', stages: 8 }],
      },
    ],
  };
  const { layers, effects } = parsePatch(old);
  expect(layers[0].filters[0]).toMatchObject({ kind: 'allPass', stages: 6 });
  expect(layers[0].effects[0]).toMatchObject({ kind: 'phaser', stages: 8 });
  expect(effects[0].kind).toBe('phaser');
});
