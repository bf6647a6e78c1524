import { sourcePatch } from '../../../test/patches';
import { RATE, held, hzAt, note, play, voicePatch } from '../../../test/playing';
import { largestStep } from '../../../test/signals';
import { centsBetween } from '../../dsp/pitch';
import { LAYER_MODULE } from '../../patch/modules';
import { routeSchema } from '../../patch/schemas/modulatorSchema';
import { type Patch, macroSchema } from '../../patch/schema';
import { createEngine } from '../engine';
import { prepareResources } from '../program/resources';

describe('What the player moves', () => {
  function played(patch: Patch, control: 'bend' | 'wheel' | 'pressure', value: number): Float32Array {
    const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
    engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 69, velocity: 100 });
    engine.schedule({ kind: 'control', frame: RATE / 4, control, value });
    const left = new Float32Array(RATE / 2);
    engine.process(left, new Float32Array(RATE / 2), 0, left.length);
    return left;
  }

  it('bend goes over the bend range, without a click', () => {
    const signal = played(voicePatch({ bendSemitones: 12 }), 'bend', -1);
    expect(hzAt(signal, 0.2)).toBeCloseTo(440, 0);
    expect(centsBetween(440, hzAt(signal, 0.4))).toBeCloseTo(-1200, 0);
    expect(largestStep(signal.subarray(1000))).toBeLessThan(0.07);
  });
});

describe('The pitch of a layer', () => {
  const cents = (signal: Float32Array, seconds: number) => centsBetween(440, hzAt(signal, seconds));

  it('moves all its sources, and can be moved', () => {
    const patch = sourcePatch(
      { kind: 'shape', shape: 'sine' },
      { kind: 'shape', shape: 'sine', semitones: 12, levelDb: -96 },
    );
    const [layer] = patch.layers;
    layer.semitones = -5;
    expect(cents(held(patch, 69, 0.5), 0.3)).toBeCloseTo(-500, 0);
    Object.assign(layer.sources[1], { levelDb: 0 });
    Object.assign(layer.sources[0], { levelDb: -96 });
    expect(cents(held(patch, 69, 0.5), 0.3)).toBeCloseTo(700, 0);
    patch.macros = [macroSchema.parse({ id: 'macro-1', name: 'Up', value: 50 })];
    const to = { moduleId: LAYER_MODULE, parameter: 'semitones' };
    layer.routes = [routeSchema.parse({ id: 'route-1', from: 'macro-1', to, amount: 6 })];
    expect(cents(held(patch, 69, 0.5), 0.3)).toBeCloseTo(1000, 0);
  });

  it('glides in from as many semitones, over its time, into every note and into none that slides', () => {
    const gliding = { glideInSemitones: -12, glideInSeconds: 0.4 };
    const signal = held(voicePatch(gliding), 69, 1);
    // Half-way there after half the time; what is heard is the mean over the window.
    expect(Math.abs(cents(signal, 0.2) + 600)).toBeLessThan(15);
    expect(Math.abs(cents(signal, 0.3) + 300)).toBeLessThan(15);
    expect(Math.abs(cents(signal, 0.6))).toBeLessThan(1);
    expect(largestStep(signal)).toBeLessThan(0.07);
    const [legato] = play(voicePatch({ ...gliding, mode: 'legato' }), [note(0, 0.7, 69), note(0.6, 9, 81)], 1);
    expect(Math.abs(cents(legato, 0.65) - 1200)).toBeLessThan(2);
  });
});
