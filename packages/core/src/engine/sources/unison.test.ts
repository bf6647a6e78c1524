import { plainPatch } from '../../../test/patches';
import { RATE, held, hzAt, note, play } from '../../../test/playing';
import { amplitudeAt, decibels } from '../../../test/signals';
import { LAYER_MODULE } from '../../patch/modules';
import { routeSchema } from '../../patch/schemas/modulatorSchema';
import { macroSchema } from '../../patch/schema';
import { centsBetween } from '../../dsp/pitch';
import { placeOf, sidesOverMiddleDb } from './unison';

describe('Unison', () => {
  it('has its total spread between the outer voices, evenly in between', () => {
    const signal = play(plainPatch('sine', { unisonVoices: 3, unisonDetuneCents: 100 }), [note(0, 9, 69)], 4)[0];
    for (const cents of [-50, 0, 50]) {
      expect(amplitudeAt(signal, RATE, 440 * 2 ** (cents / 1200))).toBeCloseTo(1 / Math.sqrt(3), 1);
    }
  });

  it('spacing moves the inner voices in or out; the outer ones stay', () => {
    expect(placeOf(0, 5, 1)).toBe(-1);
    expect(placeOf(3, 5, 1)).toBeGreaterThan(0.5);
    expect(placeOf(3, 5, -1)).toBeLessThan(0.5);
    expect(placeOf(2, 5, 0.7)).toBe(0);
  });

  it('balance lets the outer voices stand back', () => {
    const fields = { unisonVoices: 3, unisonDetuneCents: 100, unisonBalance: -12 };
    const signal = play(plainPatch('sine', fields), [note(0, 9, 69)], 4)[0];
    const middle = amplitudeAt(signal, RATE, 440);
    expect(decibels(amplitudeAt(signal, RATE, 440 * 2 ** (50 / 1200)) / middle)).toBeCloseTo(-12, 0);
  });

  it.each([2, 3, 4, 7, 16])('of %i voices is as loud on the left as on the right', (unisonVoices) => {
    const patch = plainPatch('saw', { unisonVoices, unisonDetuneCents: 200, unisonSpread: 100 });
    const [left, right] = play(patch, [note(0, 9, 57)], 4);
    const power = (signal: Float32Array) => signal.reduce((sum, x) => sum + x * x, 0);
    expect(Math.abs(decibels(power(left) / power(right)) / 2)).toBeLessThan(0.5);
    expect(left).not.toEqual(right);
  });

  it.each([
    [4, 100],
    [7, 60],
    [16, 100],
  ])('of %i voices spread to %i %% have sides as strong as is said', (unisonVoices, unisonSpread) => {
    const fields = { unisonVoices, unisonDetuneCents: 200, unisonSpread, startPhaseRandom: 100 };
    const [left, right] = play(plainPatch('saw', fields), [note(0, 9, 57)], 8);
    const power = (sign: number) => left.reduce((sum, x, i) => sum + (x + sign * right[i]) ** 2, 0);
    const measuredDb = 10 * Math.log10(power(-1) / power(1));
    expect(Math.abs(measuredDb - sidesOverMiddleDb(unisonVoices, unisonSpread / 100))).toBeLessThan(1);
  });

  it('drift wanders slowly by at most its amount, the same at every render', () => {
    const patch = plainPatch('sine', { driftCents: 20 });
    const [signal] = play(patch, [note(0, 9, 69)], 4);
    const cents = Array.from({ length: 38 }, (_, i) => centsBetween(440, hzAt(signal, 0.1 + i / 10)));
    expect(Math.max(...cents.map(Math.abs))).toBeLessThan(20.5);
    expect(Math.max(...cents) - Math.min(...cents)).toBeGreaterThan(3);
    expect(play(patch, [note(0, 9, 69)], 4)[0]).toEqual(signal);
  });

  it('is spread further by the layer, down to nothing, also while that moves', () => {
    const spread = (detuneCents: number, own: number, amount = 0) => {
      const patch = plainPatch('saw', { unisonVoices: 2, unisonDetuneCents: own });
      const [layer] = patch.layers;
      layer.detuneCents = detuneCents;
      patch.macros = [macroSchema.parse({ id: 'macro-1', name: 'Apart', value: 100 })];
      const to = { moduleId: LAYER_MODULE, parameter: 'detuneCents' };
      if (amount !== 0) layer.routes = [routeSchema.parse({ id: 'route-1', from: 'macro-1', to, amount })];
      return held(patch, 69, 2);
    };
    expect(spread(20, 12)).toEqual(spread(0, 32));
    expect(spread(-50, 12)).toEqual(spread(0, 0));
    expect(Array.from(spread(0, 12, 20).subarray(-100))).toEqual(Array.from(spread(0, 32).subarray(-100)));
  });
});
