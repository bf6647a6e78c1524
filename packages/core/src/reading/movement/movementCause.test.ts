import { combPath, growingDelayShare } from './combPath';
import type { FoldedTurn } from './foldedTurn';
import { findMover } from './movementCause';

const PARTS = 48;
const F0_HZ = 110;

/** A turn in which partials move by a law: `at` is where a sine stands, −1 to 1, `x` how far the turn is. */
function turnOf(level: (hz: number, at: number, x: number) => number, count = 20): FoldedTurn {
  const partials = Array.from({ length: count }, (_, i) => i + 1);
  const levelsDb = partials.map((n) => {
    const row = Float64Array.from({ length: PARTS }, (_, part) => {
      const x = (part + 0.5) / PARTS;
      return level(n * F0_HZ, Math.sin(2 * Math.PI * x), x);
    });
    const middle = row.reduce((a, b) => a + b, 0) / PARTS;
    return row.map((db) => db - middle);
  });
  return { f0Hz: F0_HZ, partials, levelsDb, cycles: 1, isApart: false };
}

const combDb = (mix: number, angle: number) => 10 * Math.log10(1 + mix ** 2 + 2 * mix * Math.cos(angle));

/** Two poles (Butterworth), and a chain of first-order all-passes beside the dry sound (common practice). */
const lowpass = (octaves: number) => turnOf((hz, at) => -10 * Math.log10(1 + (hz / (700 * 2 ** (octaves * at))) ** 4));
const phaser = (octaves: number) =>
  turnOf((hz, at) => combDb(0.85, 2 * 4 * Math.atan(hz / (800 * 2 ** (octaves * at)))));
const chorus = (seconds: number) => turnOf((hz, at) => combDb(0.85, 2 * Math.PI * hz * (0.009 + seconds * at)));

describe('What moves the partials of a tone against one another', () => {
  it('is a tremolo where all move alike', () => {
    const { mover, explained } = findMover(turnOf((_, at) => 3 * at));
    expect(mover).toBe('common');
    expect(explained).toBeGreaterThan(0.99);
  });

  it.each([0.4, 1.1])('is a filter whose cutoff goes %d octaves to either side', (octaves) => {
    const { mover, explained, width } = findMover(lowpass(octaves));
    expect(mover).toBe('filter');
    expect(explained).toBeGreaterThan(0.95);
    expect(Math.abs(width / (2 * octaves) - 1)).toBeLessThan(0.25);
  });

  it('is a phaser of four stages', () => {
    const { mover, explained, next } = findMover(phaser(0.7));
    expect(mover).toBe('phaser');
    expect(explained).toBeGreaterThan(0.95);
    expect(explained).toBeGreaterThan(next + 0.1);
  });

  it('is a chorus whose delay goes 1.5 ms to either side', () => {
    const { mover, width } = findMover(chorus(0.0015));
    expect(mover).toBe('chorus');
    expect(Math.abs(width / 0.003 - 1)).toBeLessThan(0.1);
  });

  it('is a notch that goes an octave to either side', () => {
    const { mover, explained, width, middle } = findMover(
      turnOf((hz, at) => {
        const x = hz / (700 * 2 ** at);
        // Two zeros on the axis (RBJ's cookbook), as deep as a window lets them be seen.
        return 10 * Math.log10((1 - x * x) ** 2 / ((1 - x * x) ** 2 + x * x) + 0.003);
      }),
    );
    expect(mover).toBe('notch');
    expect(explained).toBeGreaterThan(0.95);
    expect(Math.abs(width / 2 - 1)).toBeLessThan(0.1);
    expect(Math.abs(middle / 700 - 1)).toBeLessThan(0.05);
  });

  it('is what lies under a frequency where only that moves', () => {
    const { mover, middle } = findMover(turnOf((hz, at) => (4 * at) / (1 + (hz / 450) ** 4)));
    expect(mover).toBe('lows');
    expect(Math.abs(middle / 450 - 1)).toBeLessThan(0.1);
  });

  it('is none of them where every partial goes its own way', () => {
    const scattered = turnOf((hz, _, x) => 3 * Math.sin(2 * Math.PI * (x + (hz / F0_HZ) ** 2 * 0.381)));
    expect(findMover(scattered).explained).toBeLessThan(0.5);
  });
});

it('a delay that grows by a period every turn is two voices that beat, and no chorus', () => {
  const beating = turnOf((hz, _, x) => combDb(0.85, 2 * Math.PI * (hz / F0_HZ) * x), 12);
  expect(growingDelayShare(beating)).toBeGreaterThan(0.95);
  expect(growingDelayShare(chorus(0.0015))).toBeLessThan(0.5);
  expect(combPath(beating).explained).toBeLessThan(growingDelayShare(beating));
});
