import { effect } from '../../../test/chains';
import { amplitudeAt, largestStep } from '../../../test/signals';
import { plainPatch } from '../../../test/patches';
import { macroSchema, type Effect, type Patch } from '../../patch/schema';
import { routeSchema } from '../../patch/schemas/modulatorSchema';
import { auditionedPatch } from '../../patch/edits/audition';
import { METER, meter } from '../effects/chain/effectChain';
import { createEngine } from '../engine';
import { renderPatch } from '../render';
import { prepareResources } from '../program/resources';

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

  /** Two equal layers, the second one in a group. */
  const withGroup = (effects: Effect[], others: Partial<Patch> = {}): Patch => {
    const patch = withChain([]);
    const [first] = patch.layers;
    return {
      ...patch,
      layers: [first, { ...first, id: 'layer-2', groupId: 'group-1' }],
      groups: [{ id: 'group-1', name: 'Group 1', effects }],
      ...others,
    };
  };

  it('a group’s chain is for its layers only', () => {
    const alone = powerOf(played(withChain([])), 0.2, 0.4);
    const turned = played(withGroup([effect('stereo', { turnLeft: true, turnRight: true })]));
    expect(powerOf(turned, 0.2, 0.4)).toBeLessThan(-80);
    const silent = played(withGroup([effect('stereo', { gainDb: -96 })]));
    expect(powerOf(silent, 0.2, 0.4)).toBeCloseTo(alone, 1);
  });

  it('layers past a group wait for its chain', () => {
    const late = withGroup([effect('drive', { driveDb: 0, mix: 0 })]);
    const alone = powerOf(played(withChain([])), 0.2, 0.4);
    expect(powerOf(played(late), 0.2, 0.4) - alone).toBeCloseTo(6.02, 1);
  });

  it('a macro moves an effect of a group and of the patch', () => {
    const macros = (value: number) => [macroSchema.parse({ id: 'macro-1', name: 'Far', value })];
    const routes = ['effect', 'last'].map((moduleId) =>
      routeSchema.parse({ id: `to-${moduleId}`, from: 'macro-1', to: { moduleId, parameter: 'gainDb' }, amount: -20 }),
    );
    const at = (value: number) =>
      powerOf(
        played(
          withGroup([effect('stereo')], { macros: macros(value), routes, effects: [effect('stereo', { id: 'last' })] }),
        ),
        0.2,
        0.4,
      );
    // Of two equal layers one goes down by 10 dB, then both by 10 dB more.
    const both = 20 * Math.log10((1 + 10 ** (-10 / 20)) / 2) - 10;
    expect(at(50) - at(0)).toBeCloseTo(both, 1);
  });

  it.each([
    ['an echo', effect('delay', { leftSeconds: 0.2, rightSeconds: 0.2, feedback: 0, mix: 50 }), 0.5],
    [
      'what an equaliser changes',
      effect('equalizer', { bands: Array(8).fill({ kind: 'bell' }), band4Db: 9, mix: 100 }),
      1,
    ],
  ])('what an effect adds is heard by itself: %s', (_, added, leaves) => {
    const before = effect('stereo', { id: 'before', gainDb: -6 });
    const patch = withChain([before, added, effect('limiter', { id: 'behind' })]);
    const alone = played(
      auditionedPatch(patch, { solo: { layerId: 'layer-1', moduleId: added.id }, exaggerated: null }),
    );
    const [dry, wet] = [played(withChain([before])), played(withChain([before, added]))];
    // All of an echo is added, beside half of what came; of what is changed only the change.
    const kept = added.kind === 'delay' ? 1 - leaves : leaves;
    // Switched off, the limiter still takes its time, which a render leaves out.
    expect(Math.max(...alone.map((x, i) => Math.abs(x - (wet[i] - kept * dry[i]))))).toBeLessThan(1e-5);
    expect(powerOf(alone, 0.35, 0.45)).toBeGreaterThan(-40);
  });

  it('measures levels before and behind each effect, and what it takes off', () => {
    const chain = [
      effect('stereo', { id: 'softer', gainDb: -12 }),
      effect('compressor', { id: 'compressor', thresholdDb: -40, ratio: 4, kneeDb: 0, attackSeconds: 0.001 }),
    ];
    const patch = withChain(chain);
    const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
    const owner = { of: 'layer', id: 'layer-1' } as const;
    expect(engine.metersOf({ of: 'patch' })).toBeUndefined();
    const meters = engine.metersOf(owner)!;
    engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 57, velocity: 100 });
    engine.process(new Float32Array(3 * RATE), new Float32Array(3 * RATE), 0, 3 * RATE);
    const db = (index: number, what: number) => 10 * Math.log10(meters[METER * index + what]);
    expect(db(0, meter.powerOut) - db(0, meter.powerIn)).toBeCloseTo(-12, 1);
    expect(db(1, meter.powerIn)).toBeCloseTo(db(0, meter.powerOut), 3);
    const takenOff = meters[METER + meter.reductionDb];
    expect(db(1, meter.powerIn) - db(1, meter.powerOut)).toBeCloseTo(takenOff, 0);
    expect(2 * db(0, meter.peakOut)).toBeCloseTo(db(0, meter.powerOut) + 3, 0);
  });
});
