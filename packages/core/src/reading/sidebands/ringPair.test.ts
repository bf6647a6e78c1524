import { findRingPair } from './ringPair';

const RESOLUTION_HZ = 5;

/** Lines of partials that a sine multiplies, and the partials themselves at a level against them, or none. */
function multiplied(f0Hz: number, rateHz: number, partialsDb: number | null, falls = 6, count = 6) {
  const lines = Array.from({ length: count }, (_, i) => i + 1).flatMap((n) => {
    const levelDb = -falls * Math.log2(n);
    const sides = [-1, 1].map((side) => ({ hz: Math.abs(n * f0Hz + side * rateHz), levelDb }));
    return partialsDb === null ? sides : [...sides, { hz: n * f0Hz, levelDb: levelDb + partialsDb }];
  });
  const top = Math.max(...lines.map(({ levelDb }) => levelDb));
  return lines.map(({ hz, levelDb }) => ({ hz, levelDb: levelDb - top })).sort((a, b) => a.hz - b.hz);
}

describe('A tone that a sine multiplies', () => {
  it.each([
    [220, 61],
    [220, 313],
    [98, 43.7],
    [330, 1037],
  ])('without the tone itself (ring modulation): %d Hz by %d Hz', (f0Hz, rateHz) => {
    const pair = findRingPair({ lines: multiplied(f0Hz, rateHz, null), resolutionHz: RESOLUTION_HZ })!;
    expect(pair.f0Hz).toBeCloseTo(f0Hz, 1);
    expect(pair.rateHz).toBeCloseTo(rateHz, 1);
    expect(pair.sidebandsDb).toBeNull();
    expect(pair.explained).toBeGreaterThan(0.95);
  });

  it.each([6, 12])('with the tone, %d dB over its sidebands (amplitude modulation)', (db) => {
    const pair = findRingPair({ lines: multiplied(196, 71, db), resolutionHz: RESOLUTION_HZ })!;
    expect(pair.f0Hz).toBeCloseTo(196, 1);
    expect(pair.rateHz).toBeCloseTo(71, 1);
    expect(pair.sidebandsDb).toBeCloseTo(-db, 1);
  });

  it('tells the levels of its partials', () => {
    const { levelsDb } = findRingPair({ lines: multiplied(220, 61, null, 12), resolutionHz: RESOLUTION_HZ })!;
    [0, -12, -12 * Math.log2(3)].forEach((db, i) => expect(levelsDb[i]).toBeCloseTo(db, 1));
  });

  it('is known from lines that are off by a tenth of what can be resolved', () => {
    const lines = multiplied(220, 61, null).map((line, i) => ({ ...line, hz: line.hz + (i % 2 ? 0.4 : -0.4) }));
    const pair = findRingPair({ lines, resolutionHz: RESOLUTION_HZ })!;
    expect(Math.abs(pair.f0Hz - 220)).toBeLessThan(0.5);
    expect(Math.abs(pair.rateHz - 61)).toBeLessThan(0.5);
  });
});

describe('No multiplication is told', () => {
  const partials = (f0Hz: number, has: (n: number) => boolean = () => true) =>
    Array.from({ length: 12 }, (_, i) => i + 1)
      .filter(has)
      .map((n) => ({ hz: n * f0Hz, levelDb: -6 * Math.log2(n) }));

  it.each([
    ['a plain series of partials', partials(110)],
    ['a hollow one', partials(110, (n) => n % 2 === 1)],
    ['two notes a fifth apart', [...partials(220), ...partials(330)].sort((a, b) => a.hz - b.hz)],
    [
      'a chord of two sines',
      [
        { hz: 220, levelDb: 0 },
        { hz: 277, levelDb: 0 },
      ],
    ],
    [
      'sidebands that are not as loud as one another',
      multiplied(220, 61, 6).map((line) =>
        Math.round(line.hz - 61) % 220 === 0 ? { ...line, levelDb: line.levelDb - 9 } : line,
      ),
    ],
    ['nothing', []],
  ])('of %s', (_, lines) => {
    expect(findRingPair({ lines, resolutionHz: RESOLUTION_HZ })).toBeUndefined();
  });
});
