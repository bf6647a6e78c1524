import { plainPatch } from '../../../test/patches';
import { amplitudeAt, decibels, harmonicTone, saw } from '../../../test/signals';
import { renderPatch } from '../../engine/render';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import type { Patch } from '../../patch/schema';
import { readTone } from '../../reading/read';
import { gainsOfHalfRate, withGains } from './halfRate';
import { createHearing } from './hearing';

const RATE = 44100;
const notes = [{ onsetSeconds: 0, durationSeconds: 0.8, midi: 45, velocity: 100 }];

function behindLowPass(cutoffHz: number): Patch {
  const patch = plainPatch('saw');
  patch.layers[0].filters[0] = filterSchema.parse({ kind: 'lowpass', id: 'filter-1', cutoffHz, slopeDbPerOctave: 12 });
  return patch;
}

const printAt = (patch: Patch, sampleRateHz: number) => ({
  channels: renderPatch({ patch, notes, sampleRateHz, seconds: 1, seed: 1 }),
  sampleRateHz,
});

describe('What half the rate does to a patch', () => {
  const level = (hz: number, patch: Patch) => {
    const { bands, gains } = gainsOfHalfRate(printAt(patch, RATE), printAt(patch, RATE / 2));
    return decibels(gains[bands.centresHz.findIndex((centre) => centre > hz)]);
  };

  it('is nothing without a filter', () => {
    for (const hz of [110, 1000, 4000, 8000]) expect(Math.abs(level(hz, plainPatch('saw')))).toBeLessThan(0.2);
  });

  it('is what the bilinear transform takes away over a cutoff: tan(πf/2·rate) for tan(πf/rate)', () => {
    const patch = behindLowPass(2500);
    const responseDb = (hz: number, rate: number) =>
      -10 * Math.log10(1 + (Math.tan((Math.PI * hz) / rate) / Math.tan((Math.PI * 2500) / rate)) ** 4);
    for (const hz of [500, 4000, 6000, 8000]) {
      expect(Math.abs(level(hz, patch) - (responseDb(hz, RATE / 2) - responseDb(hz, RATE)))).toBeLessThan(0.8);
    }
  });
});

it('a sound with gains has them at its partials, and nothing is moved', () => {
  const [f0Hz, sampleRateHz] = [220, 22050];
  const channel = harmonicTone({ f0Hz, sampleRateHz, amplitude: saw });
  const { bands, gains } = gainsOfHalfRate(
    { channels: [channel], sampleRateHz },
    { channels: [channel], sampleRateHz: sampleRateHz / 2 },
  );
  gains.forEach((_, b) => (gains[b] = bands.centresHz[b] > 1000 ? 0.5 : 1));
  const {
    channels: [changed],
  } = withGains({ channels: [channel], sampleRateHz }, { bands, gains });
  expect(changed).toHaveLength(channel.length);
  const ratio = (n: number) =>
    amplitudeAt(changed, sampleRateHz, n * f0Hz) / amplitudeAt(channel, sampleRateHz, n * f0Hz);
  for (const n of [1, 2, 3]) expect(ratio(n)).toBeCloseTo(1, 2);
  for (const n of [6, 10, 20]) expect(ratio(n)).toBeCloseTo(0.5, 2);
});

describe('A patch that is heard at half the rate', () => {
  const audio = printAt(behindLowPass(2500), RATE);
  const cut = { audio, reading: readTone(audio), notes, seed: 1 };
  const cutoffs = [1800, 2500, 3400];

  it('is away from its own print, until half the rate is set right for it', () => {
    const { distance, calibrate } = createHearing([cut], 'half');
    expect(distance(behindLowPass(2500))).toBeGreaterThan(0.8);
    calibrate(behindLowPass(2500));
    expect(distance(behindLowPass(2500))).toBeLessThan(0.15);
  });

  it('is nearest where it is nearest at the whole rate, also when set right for another', () => {
    const { distance, calibrate } = createHearing([cut], 'half');
    calibrate(behindLowPass(3000));
    const [low, own, high] = cutoffs.map((hz) => distance(behindLowPass(hz)));
    expect(own).toBeLessThan(Math.min(low, high) / 3);
  });

  it('is heard at the whole rate as it is', () => {
    const { distance, calibrate } = createHearing([cut], 'whole');
    const before = cutoffs.map((hz) => distance(behindLowPass(hz)));
    calibrate(behindLowPass(1800));
    expect(cutoffs.map((hz) => distance(behindLowPass(hz)))).toEqual(before);
  });
});
