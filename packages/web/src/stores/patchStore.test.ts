import { emptyPatch } from '@imprint/core/patch/defaults';
import { addEffect, removeEffect } from '@imprint/core/patch/edits/chains';
import { sampleFromChannels } from '@imprint/core/patch/contents/samplePcm';
import {
  editEffect,
  editLayer,
  editModule,
  forgetHistory,
  gesture,
  redo,
  undo,
  usePatchStore,
  withSample,
} from './patchStore';

const cutoff = () => (usePatchStore.getState().patch!.layers[0].filters[0] as { cutoffHz: number }).cutoffHz;
const setCutoff = (cutoffHz: number) => editModule('layer-1', 'filter-1', { cutoffHz });

beforeEach(() => {
  usePatchStore.getState().setPatch(emptyPatch());
  forgetHistory();
});

describe('Undo', () => {
  it('takes back every edit, and redo brings it again', () => {
    setCutoff(1000);
    setCutoff(500);
    undo();
    expect(cutoff()).toBe(1000);
    undo();
    expect(cutoff()).toBe(20000);
    redo();
    redo();
    expect(cutoff()).toBe(500);
  });

  it('takes a drag back as one', () => {
    gesture.begin();
    for (const value of [900, 800, 700]) setCutoff(value);
    gesture.end();
    setCutoff(100);
    undo();
    expect(cutoff()).toBe(700);
    undo();
    expect(cutoff()).toBe(20000);
  });

  it('brings back a patch that was replaced', () => {
    setCutoff(1234);
    usePatchStore.getState().setPatch(emptyPatch('Another'));
    undo();
    expect(cutoff()).toBe(1234);
  });

  it('has nothing to do at the beginning', () => {
    undo();
    expect(cutoff()).toBe(20000);
  });
});

it('edits leave the old patch as it was', () => {
  const before = usePatchStore.getState().patch!;
  setCutoff(300);
  editLayer('layer-1', (layer) => ({ ...layer, levelDb: -20 }));
  expect(before.layers[0].filters[0]).toMatchObject({ cutoffHz: 20000 });
  expect(before.layers[0].levelDb).toBe(-12);
  expect(usePatchStore.getState().patch!.layers[0].levelDb).toBe(-20);
});

it('an edit of one module leaves the others', () => {
  editModule('layer-1', 'source-1', { cents: 12 });
  const [layer] = usePatchStore.getState().patch!.layers;
  expect(layer.sources[0]).toMatchObject({ cents: 12 });
  expect(layer.filters).toEqual(emptyPatch().layers[0].filters);
});

it('the same sample is put in once, and goes with the last that plays it', () => {
  const { setPatch, edit } = usePatchStore.getState();
  setPatch(emptyPatch());
  const sound = sampleFromChannels('sample-1', 'Cut', 44100, [new Float32Array(100).fill(0.1)]);
  const play = () =>
    withSample(sound, (patch, sampleId) => addEffect(patch, { of: 'patch' }, 'vocoder', { sampleId })[0]);
  play();
  play();
  const { samples, effects } = usePatchStore.getState().patch!;
  expect(samples).toHaveLength(1);
  expect(effects.map((effect) => 'sampleId' in effect && effect.sampleId)).toEqual([samples[0].id, samples[0].id]);
  edit((patch) => removeEffect(patch, { of: 'patch' }, effects[0].id));
  expect(usePatchStore.getState().patch!.samples).toHaveLength(1);
  editEffect({ of: 'patch' }, effects[1].id, { sampleId: null });
  expect(usePatchStore.getState().patch!.samples).toHaveLength(0);
});
