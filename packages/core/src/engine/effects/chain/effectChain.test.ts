import { CHAIN_RATE_HZ, chainOf, chainWithin, effect, sineOf } from '../../../../test/chains';
import { dcFaultOfChain, faultOfChain } from '../../../../test/randomChains';
import { rowsOf, thorough } from '../../../../test/thorough';
import { amplitudeAt, createRandom, harmonicTone, rms } from '../../../../test/signals';
import { effectParameters } from '../../../parameters/effects';

import type { Effect, EffectKind } from '../../../patch/schema';

const kinds = Object.keys(effectParameters) as EffectKind[];
const steepest = (signal: Float64Array) =>
  signal.reduce((a, x, i) => (i ? Math.max(a, Math.abs(x - signal[i - 1])) : a), 0);

describe('A chain', () => {
  it.each(kinds)('%s: switched off it only delays, and goes without a click', (kind) => {
    const on = effect(kind, { driveDb: 12 });
    const off = { ...on, on: false };
    const { chain, run, set } = chainOf(on);
    const tone = sineOf(220, 0.5, 0.4);
    run(tone);
    set(off);
    const [switched] = run(tone);
    expect(steepest(switched.subarray(0, 4800))).toBeLessThan(0.25);
    const [passed] = run(tone);
    const from = 4800;
    expect(passed.subarray(from, from + 2000)).toEqual(
      tone.subarray(from - chain.latency, from - chain.latency + 2000),
    );
  });

  it.each(kinds)('%s: silence in, silence out, once its tail has gone', (kind) => {
    const { chain, run } = chainOf(
      effect(kind, { rt60Seconds: 0.3, feedback: 20, leftSeconds: 0.1, rightSeconds: 0.1 }),
    );
    run(sineOf(220, 0.2));
    run(new Float64Array(3 * CHAIN_RATE_HZ));
    expect(chain.silent).toBe(true);
    expect(Math.max(...run(new Float64Array(4800))[0])).toBe(0);
  });

  it('order matters: a filter before a drive is heard otherwise than one behind it', () => {
    const lowpass = effect('equalizer', {
      id: 'eq',
      bands: [{ kind: 'highCut', slopeDbPerOctave: 24 }, {}, {}, {}, {}, {}, {}, {}],
      band1Hz: 500,
    });
    const dirt = effect('drive', { id: 'dirt', driveDb: 24 });
    const tone = sineOf(330, 1, 0.5);
    const third = (signal: Float64Array) =>
      20 *
      Math.log10(
        amplitudeAt(signal.subarray(9600, 43200), CHAIN_RATE_HZ, 990) /
          amplitudeAt(signal.subarray(9600, 43200), CHAIN_RATE_HZ, 330),
      );
    const sings = third(chainOf(lowpass, dirt).run(tone)[0]);
    const dulled = third(chainOf(dirt, lowpass).run(tone)[0]);
    expect(sings).toBeGreaterThan(dulled + 15);
  });

  /** Level of a tone behind a chorus, dB against before it. */
  const behindChorus = (hz: number, fields: object) => {
    const [left] = chainOf(effect('chorus', fields)).run(sineOf(hz, 2, 0.5));
    return 20 * Math.log10(amplitudeAt(left.subarray(24000), CHAIN_RATE_HZ, hz) / 0.5);
  };

  it.each([80, 120, 200, 500])('a chorus keeps what lies an octave under its low cut of %d Hz as it is', (lowCutHz) => {
    for (const mix of [0, 50, 100])
      for (const hz of [lowCutHz / 2, lowCutHz / 4])
        expect(Math.abs(behindChorus(hz, { lowCutHz, mix, voices: 4, depthSeconds: 0.01 }))).toBeLessThan(0.1);
  });

  it.each([
    [120, 100],
    [200, 100],
    [500, 100],
    [200, 50],
  ])(
    'a chorus with a low cut of %d Hz, %d %% wet, lets nothing dry through above it but what is mixed in',
    (lowCutHz, mix) => {
      // One voice that stands still is a delay: a comb with the dry share, or at full wet nothing but itself.
      const delaySeconds = 0.0125;
      const fields = { lowCutHz, mix, voices: 1, depthSeconds: 0, delaySeconds, feedback: 0, width: 0 };
      for (const hz of [2 * lowCutHz, 3.3 * lowCutHz, 1234]) {
        const angle = 2 * Math.PI * hz * delaySeconds;
        const [wet, dry] = [mix / 100, 1 - mix / 100];
        const comb = 10 * Math.log10((dry + wet * Math.cos(angle)) ** 2 + (wet * Math.sin(angle)) ** 2);
        expect(Math.abs(behindChorus(hz, fields) - comb)).toBeLessThan(0.5);
      }
    },
  );

  it('a chorus that is not mixed in is flat, also at its low cut', () => {
    for (const hz of [60, 119, 120, 121, 240, 3000])
      expect(Math.abs(behindChorus(hz, { lowCutHz: 120, mix: 0, voices: 3 }))).toBeLessThan(0.05);
  });

  it('a drive that matches its level comes out as loud as it went in', () => {
    const tone = sineOf(220, 3, 0.2);
    const [out] = chainOf(effect('drive', { driveDb: 30, matchLevel: true })).run(tone);
    expect(Math.abs(20 * Math.log10(rms(out.subarray(96000)) / rms(tone)))).toBeLessThan(0.3);
  });

  it.each([4, 6.5, 8, 12])('%d bits: noise 6.02 dB a bit under full scale', (bits) => {
    const random = createRandom(4);
    const signal = new Float64Array(CHAIN_RATE_HZ).map(() => 1.8 * (random() - 0.5));
    const [out] = chainOf(effect('reducer', { bits })).run(signal);
    const noise = out.reduce((sum, y, i) => sum + (y - signal[i]) ** 2, 0) / signal.length;
    // A step of 2^(1 − bits), whose rounding leaves step²/12 (Widrow & Kollár, Quantization Noise).
    expect(Math.abs(10 * Math.log10(noise) - (20 * Math.log10(2 ** (1 - bits)) - 10 * Math.log10(12)))).toBeLessThan(
      0.2,
    );
  });

  it('holds its values at the rate that is set', () => {
    const random = createRandom(4);
    const noise = new Float64Array(CHAIN_RATE_HZ / 2).map(() => random() - 0.5);
    const [out] = chainOf(effect('reducer', { bits: 24, rateHz: 4800 })).run(noise);
    // What takes constants away bends a step by no more than this a sample.
    const changes = out.filter((x, i) => i > 0 && Math.abs(x - out[i - 1]) > 0.0003).length;
    expect(Math.abs(changes / 2400 - 1)).toBeLessThan(0.02);
  });

  it('a tremolo goes down by its depth, at its rate, and from side to side with its sides apart', () => {
    const tone = new Float64Array(2 * CHAIN_RATE_HZ).fill(0.5);
    const [left, right] = chainOf(effect('tremolo', { division: '1/4', depth: 60, apartCycles: 0.5 })).run(tone);
    // A quarter at 120 is half a second.
    for (const turn of [1, 2, 3]) {
      expect(left[0.5 * turn * CHAIN_RATE_HZ]).toBeCloseTo(0.5, 2);
      expect(left[(0.5 * turn - 0.25) * CHAIN_RATE_HZ]).toBeCloseTo(0.2, 2);
      expect(right[(0.5 * turn - 0.25) * CHAIN_RATE_HZ]).toBeCloseTo(0.5, 2);
    }
  });

  it('what was changed while nothing sounded is there from the first sample on', () => {
    const chain = () => [
      effect('stereo', { id: 'gain' }),
      effect('equalizer', { id: 'eq', mix: 100 }),
      effect('drive'),
    ];
    const tone = sineOf(300, 0.1);
    const changed = [
      { ...chain()[0], gainDb: -20 },
      { ...chain()[1], mix: 20, outputDb: 6 },
      { ...chain()[2], driveDb: 0, mix: 40 },
    ] as Effect[];
    const [wanted] = chainOf(...changed).run(tone);
    const { run, set } = chainOf(...chain());
    run(tone);
    run(new Float64Array(CHAIN_RATE_HZ));
    set(...changed);
    const [out] = run(tone);
    expect(Math.max(...out.map((y, i) => Math.abs(y - wanted[i])))).toBeLessThan(1e-6);
  });

  it('a tremolo by random turns repeats, by a drawn one follows the line', () => {
    const tone = new Float64Array(2 * CHAIN_RATE_HZ).fill(0.5);
    const random = effect('tremolo', { shape: 'randomSteps', division: '1/4', depth: 100 });
    const [one] = chainOf(random).run(tone);
    const [again] = chainOf(random).run(tone);
    expect(one).toEqual(again);
    const steps = [0.4, 0.9, 1.4, 1.9].map((seconds) => one[seconds * CHAIN_RATE_HZ]);
    expect(new Set(steps.map((level) => level.toFixed(3))).size).toBe(4);
    const drawnTurn = [
      { x: 0, y: 1 },
      { x: 0.4, y: 0.2 },
      { x: 1, y: 0.8 },
    ];
    const [drawn] = chainOf(effect('tremolo', { shape: 'drawn', drawnTurn, division: '1/4', depth: 100 })).run(tone);
    for (const [seconds, share] of [
      [0.1, 0.6],
      [0.2, 0.2],
      [0.35, 0.5],
      [0.7, 0.2],
    ])
      expect(drawn[seconds * CHAIN_RATE_HZ] / 0.5).toBeCloseTo(share, 1);
  });

  it('random chains make nothing that is no number, run away nowhere, and fall silent within their tails', () => {
    const seeds = Array.from({ length: 25 }, (_, i) => 1 + i);
    const faults = rowsOf(seeds, 12)
      .map(faultOfChain)
      .filter((fault) => fault !== undefined);
    expect(faults).toEqual([]);
  });

  thorough.it('random chains leave no constant over −60 dBFS of a tone', () => {
    // The first three are chains that did before limiter and reducer counted what comes behind them.
    const seeds = Array.from({ length: 25 }, (_, i) => 1 + i);
    const faults = [331, 1328, 1650, ...rowsOf(seeds, 9)]
      .map((seed) => dcFaultOfChain(seed))
      .filter((fault) => fault !== undefined);
    expect(faults).toEqual([]);
  });

  it.each([
    ['drive', { driveDb: 24, bias: 50, matchLevel: true }],
    ['drive', { curve: 'diode', driveDb: 36, bias: -80 }],
    ['ringModulator', { ratio: 1, tuning: 'note' }],
    ['frequencyShifter', { shiftHz: -110 }],
    ['reducer', { bits: 2, rateHz: 110 }],
    ['tremolo', { rateHz: 40, depth: 100 }],
    ['flanger', { feedback: 99, delaySeconds: 0.005 }],
    ['pitchShifter', { semitones: -24, feedback: 95 }],
  ] as const)('%s with %o leaves no constant', (kind, fields) => {
    const tone = Float64Array.from(
      harmonicTone({ f0Hz: 110, sampleRateHz: CHAIN_RATE_HZ, seconds: 3, amplitude: (n) => 1 / n }),
    );
    const around = { noteHz: 110, layer: () => undefined };
    for (const side of chainWithin(around, effect(kind, fields)).run(tone)) {
      const held = side.subarray(CHAIN_RATE_HZ);
      const sum = held.reduce((a, x, i) => a + x * (1 - Math.cos((2 * Math.PI * i) / held.length)), 0);
      expect(Math.abs(sum / held.length)).toBeLessThan(0.001);
    }
  });
});
