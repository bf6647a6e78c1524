import { effect } from '../../test/chains';
import { amplitudeAt, largestStep } from '../../test/signals';
import { plainPatch } from '../../test/patches';
import { macroSchema, type Effect, type Patch } from '../patch/schema';
import { routeSchema } from '../patch/modulatorSchema';
import { createEngine } from './engine';
import { renderPatch } from './render';
import { prepareResources } from './resources';

const RATE = 44100;
const note = { onsetSeconds: 0.1, durationSeconds: 0.4, midi: 57, velocity: 100 };

const withChain = (layerEffects: Effect[], patchEffects: Effect[] = []): Patch => {
  const patch = plainPatch('sine');
  return { ...patch, effects: patchEffects, layers: [{ ...patch.layers[0], effects: layerEffects }] };
};
const played = (patch: Patch, seconds = 1.2) =>
  Float64Array.from(renderPatch({ patch, notes: [note], sampleRateHz: RATE, seconds })[0]);
const powerOf = (signal: Float64Array, from: number, to: number) => {
  const part = signal.subarray(from * RATE, to * RATE);
  return 10 * Math.log10(part.reduce((sum, x) => sum + x * x, 0) / part.length + 1e-12);
};

describe('Chains in the engine', () => {
  it('a note comes in time behind a chain that takes its time', () => {
    const dry = played(withChain([]));
    const driven = played(
      withChain([effect('limiter', { ceilingDb: 0 })], [effect('limiter', { id: 'last', ceilingDb: 0 })]),
    );
    const begins = (signal: Float64Array) => signal.findIndex((x) => Math.abs(x) > 1e-4);
    expect(begins(driven)).toBe(begins(dry));
  });

  it('layers behind chains of different latency stay together', () => {
    const one = withChain([effect('drive', { driveDb: 0, mix: 0 })]);
    const [first] = one.layers;
    const both = (turnLeft: boolean) => ({
      ...one,
      layers: [first, { ...first, id: 'layer-2', effects: [effect('stereo', { turnLeft, turnRight: turnLeft })] }],
    });
    // In phase they add up, turned around they take each other away.
    expect(powerOf(played(both(false)), 0.2, 0.4) - powerOf(played(one), 0.2, 0.4)).toBeCloseTo(6.02, 1);
    expect(powerOf(played(both(true)), 0.2, 0.4)).toBeLessThan(-80);
  });

  it('echoes go on after the note, and the engine is silent when they have gone', () => {
    const echo = effect('delay', { leftSeconds: 0.3, rightSeconds: 0.3, feedback: 30, mix: 50 });
    const sound = played(withChain([], [echo]), 8);
    expect(powerOf(sound, 0.8, 0.85)).toBeGreaterThan(-40);
    expect(Math.max(...sound.subarray(7.5 * RATE))).toBeLessThan(1e-6);
  });

  it('a macro and a modulator move an effect of a layer', () => {
    const patch = withChain([effect('stereo', { id: 'place' })]);
    const at = (value: number) => ({
      ...patch,
      macros: [macroSchema.parse({ id: 'macro-1', name: 'Far', value })],
      layers: patch.layers.map((layer) => ({
        ...layer,
        routes: [
          routeSchema.parse({
            id: 'r',
            from: 'macro-1',
            to: { moduleId: 'place', parameter: 'gainDb' },
            amount: -24,
            polarity: 'unipolar',
          }),
        ],
      })),
    });
    expect(powerOf(played(at(0)), 0.2, 0.4) - powerOf(played(at(100)), 0.2, 0.4)).toBeCloseTo(24, 1);
    expect(powerOf(played(at(0)), 0.2, 0.4) - powerOf(played(at(50)), 0.2, 0.4)).toBeCloseTo(12, 1);
  });

  it('what is cut off falls silent at once, without a click, with its echoes', () => {
    const patch = withChain([effect('reverb', { rt60Seconds: 5, mix: 60 })]);
    const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
    const left = new Float32Array(RATE);
    engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 57, velocity: 100 });
    engine.schedule({ kind: 'cutOff', frame: RATE / 2 });
    engine.process(left, new Float32Array(RATE), 0, RATE);
    expect(largestStep(left)).toBeLessThan(0.1);
    expect(Math.max(...left.subarray(RATE / 2 + 1024))).toBe(0);
  });

  it('a note that begins as all else is cut off is heard whole, with none of the old echoes', () => {
    const patch = withChain(
      [effect('limiter', { ceilingDb: 0 })],
      [effect('delay', { id: 'last', leftSeconds: 0.1, rightSeconds: 0.1, mix: 50 })],
    );
    const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
    const begin = (frame: number, noteId: number) =>
      engine.schedule({ kind: 'noteOn', frame, noteId, midi: 57, velocity: 100 });
    const cutAt = 345 * 128;
    begin(0, 1);
    engine.schedule({ kind: 'cutOff', frame: cutAt });
    begin(cutAt, 2);
    const left = new Float32Array(2 * cutAt);
    engine.process(left, new Float32Array(2 * cutAt), 0, left.length);
    expect(largestStep(left)).toBeLessThan(0.1);
    // Once the old note has faded the second begins just as the first did.
    for (let i = 600; i < 8000; i++) expect(left[cutAt + i]).toBeCloseTo(left[i], 6);
  });

  it('a patch without effects sounds as it did', () => {
    const plain = played(withChain([]));
    const empty = played(withChain([effect('equalizer')], [effect('stereo', { id: 'last' })]));
    expect(amplitudeAt(empty.subarray(8820, 17640), RATE, 220)).toBeCloseTo(
      amplitudeAt(plain.subarray(8820, 17640), RATE, 220),
      6,
    );
  });
});
