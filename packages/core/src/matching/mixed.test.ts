import { sourcePatch } from '../../test/patches';
import { rms } from '../../test/signals';
import { renderPatch } from '../engine/render';
import { wavetableFromSamples } from '../patch/contents/wavetableFrames';
import { parsePatch } from '../patch/parse';
import { interactionSchema } from '../patch/schemas/sourceSchema';
import { fallingEnvelope, route } from './explain/hypothesis';
import { exchanged } from './mixed';
import { preparedOf } from './prepared';

describe('the spectrum of the cut in place of the sources of a plain patch', () => {
  const copy = sourcePatch({ kind: 'wavetable', wavetableId: 'cut' });
  copy.wavetables = [
    wavetableFromSamples(
      'cut',
      'Cut',
      Float32Array.from({ length: 2048 }, (_, i) => Math.sin((Math.PI * i) / 1024)),
    ),
  ];

  it('leaves nothing of what moved the sources that it replaces, and all that moves the rest', () => {
    const plain = sourcePatch(
      { kind: 'shape', shape: 'saw' },
      { kind: 'shape', shape: 'sine', letThrough: 0 },
      { kind: 'noise', letThrough: 0 },
    );
    const [layer] = plain.layers;
    Object.assign(layer, { routes: [], modulators: [] });
    for (const id of ['source-2', 'source-3'])
      route(layer, fallingEnvelope(`own-${id}`, id, 0.2), { moduleId: id, parameter: 'letThrough' }, 100);

    const mixed = parsePatch(exchanged(plain, copy));
    const [{ sources, routes, modulators }] = mixed.layers;
    expect(sources.map(({ id, kind }) => `${id} ${kind}`)).toEqual(['source-1 wavetable', 'source-3 noise']);
    expect(routes.map(({ to }) => to.moduleId)).toEqual(['source-3']);
    expect(modulators.map(({ id }) => id)).toEqual(['own-source-3']);

    const notes = [{ onsetSeconds: 0, durationSeconds: 0.5, midi: 57, velocity: 100 }];
    const words = { notes, sampleRateHz: 44100, seconds: 0.5, seed: 1, resources: preparedOf(mixed) };
    expect(rms(renderPatch({ ...words, patch: mixed })[0])).toBeGreaterThan(0.01);
  });

  it('is not made where sources move one another', () => {
    const plain = sourcePatch({ kind: 'shape', shape: 'sine' }, { kind: 'shape', shape: 'sine' });
    plain.layers[0].interactions = [
      interactionSchema.parse({ kind: 'fm', id: 'fm-1', on: true, from: 'source-2', to: 'source-1' }),
    ];
    expect(exchanged(plain, copy)).toBeUndefined();
  });
});
