import { createRandom, decibels } from '../../../test/signals';
import { aliasDb } from '../../../test/spectrum';
import { amplitudeAt } from '../../../test/signals';
import { plainPatch } from '../../../test/patches';
import { kernel } from '../../dsp/kernel/kernel';
import { shaperCurves } from '../../parameters/shapes';
import type { Patch } from '../../patch/schema';
import { renderPatch } from '../render';
import { curveTableOf, slotOf } from './shaperCurves';

const RATE = 44100;
const straight = [
  { x: -1, y: -1 },
  { x: 1, y: 1 },
];

function shaped(
  curve: Patch['layers'][0]['shaper']['curve'],
  fields: Record<string, unknown>,
  midi = 57,
): Float32Array {
  const patch = plainPatch('sine');
  const [layer] = patch.layers;
  layer.shaper = { ...layer.shaper, on: true, curve, ...fields };
  const notes = [{ onsetSeconds: 0, durationSeconds: 60, midi, velocity: 100 }];
  return renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 })[0];
}

describe.each(shaperCurves)('The %s curve', (curve) => {
  it('passes quiet sounds as they are, starts at zero and stays within ±1', () => {
    const table = curveTableOf(curve, straight);
    expect(table.curve(0)).toBeCloseTo(0, 12);
    const slope = table.curve(1e-6) / 1e-6;
    expect(slope).toBeCloseTo(curve === 'roundFold' ? Math.PI / 2 : 1, 4);
    const random = createRandom(3);
    for (let i = 0; i < 500; i++) {
      expect(Math.abs(table.curve(40 * random() - 20))).toBeLessThanOrEqual(1);
    }
  });
});

it('symmetric curves make odd partials only, a lean adds even ones', () => {
  for (const curve of ['soft', 'hard', 'roundFold', 'straightFold'] as const) {
    const even = (fields: Record<string, unknown>) =>
      decibels(amplitudeAt(shaped(curve, fields), RATE, 440) / amplitudeAt(shaped(curve, fields), RATE, 220));
    expect(even({ driveDb: 8 })).toBeLessThan(-70);
    expect(even({ driveDb: 8, bias: 40 })).toBeGreaterThan(-40);
  }
  expect(decibels(amplitudeAt(shaped('tube', { driveDb: 8 }), RATE, 440))).toBeGreaterThan(-40);
});

it('sine folding of a sine has odd partials 2·J_n(π/2·drive) (Jacobi–Anger; Abramowitz & Stegun 9.1.43)', () => {
  // At a drive of 2/π·2.405 the argument is 2.405: J1 = 0.5191, J3 = 0.1990.
  const signal = shaped('roundFold', { driveDb: decibels((2.4048 * 2) / Math.PI) });
  expect(amplitudeAt(signal, RATE, 220)).toBeCloseTo(2 * 0.5191, 2);
  expect(amplitudeAt(signal, RATE, 660)).toBeCloseTo(2 * 0.199, 2);
});

it.each(['soft', 'tube', 'roundFold'] as const)(
  '%s aliases at least 60 dB under at 1 kHz and 24 dB of drive',
  (curve) => {
    const midi = 83.3;
    const hz = 440 * 2 ** ((midi - 69) / 12);
    expect(aliasDb(shaped(curve, { driveDb: 24 }, midi), hz, RATE, 'strongest')).toBeLessThan(-60);
  },
);

it('inputs beyond a table are read from its own ends, whatever stands beside it in the kernel', () => {
  const driven = () => shaped('soft', { driveDb: 48 });
  const before = driven();
  // Fills every place of the kernel but that of the curve that is heard.
  for (let i = 0; i < kernel.TABLES.value - 1; i++) {
    slotOf(
      curveTableOf('drawn', [
        { x: -1, y: -0.5 - 0.01 * i },
        { x: 1, y: 0.2 },
      ]),
    );
  }
  const after = driven();
  expect(Math.max(...before.map((x, i) => Math.abs(x - after[i])))).toBe(0);
});

it('mixed half wet, dry and wet stay in step', () => {
  // A quiet sine passes both ways unchanged, so any difference in time would show as a loss.
  const signal = shaped('soft', { driveDb: 0, mix: 50, outputDb: 0 }, 93);
  const wet = shaped('soft', { driveDb: 0, mix: 100 }, 93);
  const dry = shaped('soft', { driveDb: 0, mix: 0 }, 93);
  const at = (s: Float32Array) => amplitudeAt(s, RATE, 1760);
  expect(at(signal)).toBeCloseTo((at(wet) + at(dry)) / 2, 3);
});

it('silence in is silence out, whatever the lean', () => {
  const patch = plainPatch('sine', { levelDb: -96 });
  const [layer] = patch.layers;
  layer.shaper = { ...layer.shaper, on: true, curve: 'tube', driveDb: 30, bias: 80 };
  const notes = [{ onsetSeconds: 0, durationSeconds: 1, midi: 57, velocity: 100 }];
  const [left] = renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 0.5 });
  expect(Math.max(...left.map(Math.abs))).toBeLessThan(1e-9);
});

it('keeps as many tables as there are places, and brings back one that had to go', () => {
  const tables = Array.from({ length: kernel.TABLES.value + 1 }, (_, i) =>
    curveTableOf('drawn', [
      { x: -1, y: -0.1 * i },
      { x: 1, y: 0.1 * i },
    ]),
  );
  const slots = tables.map(slotOf);
  expect(new Set(slots.slice(0, -1)).size).toBe(kernel.TABLES.value);
  expect(slots.at(-1)).toBe(slots[0]);
  expect(slotOf(tables[1])).toBe(slots[1]);
  expect(slotOf(tables[0])).toBe(slots[1]);
});
