import {
  type PlainShape,
  nearestShape,
  oddMinusEvenDb,
  shapeAmplitude,
  shapeCycles,
  standoutPartials,
  tiltDbPerOctave,
} from './spectralShape';

const COUNT = 32;

/** Levels against the strongest of what has these amplitudes, and a tilt of its own. */
function levelsOf(amplitude: (n: number) => number, tiltDb = 0): number[] {
  const raw = Array.from(
    { length: COUNT },
    (_, i) => 20 * Math.log10(amplitude(i + 1) + 1e-9) + tiltDb * Math.log2(i + 1),
  );
  const top = Math.max(...raw);
  return raw.map((level) => level - top);
}

const ofShape = (shape: PlainShape, width: number | null = null) => levelsOf((n) => shapeAmplitude(shape, width, n));

/** Partial n of one period by the definition of its coefficient: amplitude, and cycles of a cosine. */
function coefficientOf(period: (cycles: number) => number, n: number) {
  const samples = 8192;
  let [re, im] = [0, 0];
  for (let i = 0; i < samples; i++) {
    const turn = (2 * Math.PI * n * (i + 0.5)) / samples;
    re += period((i + 0.5) / samples) * Math.cos(turn);
    im += period((i + 0.5) / samples) * Math.sin(turn);
  }
  return { amplitude: Math.hypot(re, im) / samples, cycles: Math.atan2(-im, re) / (2 * Math.PI) };
}

/** Periods as they begin in a patch. */
it.each<[PlainShape, number | null, (cycles: number) => number]>([
  ['sine', null, (x) => Math.sin(2 * Math.PI * x)],
  ['triangle', null, (x) => 1 - 4 * Math.abs(((x + 0.25) % 1) - 0.5)],
  ['saw', null, (x) => 2 * ((x + 0.5) % 1) - 1],
  ['square', null, (x) => (x < 0.5 ? 1 : -1)],
  ['pulse', 0.2, (x) => (x > 0.3 && x < 0.5 ? 1 : -1)],
  ['pulse', 0.37, (x) => (x > 0.13 && x < 0.5 ? 1 : -1)],
])('has the partials of a %s of width %p, and where they begin', (shape, width, period) => {
  const first = coefficientOf(period, 1).amplitude / shapeAmplitude(shape, width, 1);
  for (let n = 1; n <= 12; n++) {
    const { amplitude, cycles } = coefficientOf(period, n);
    expect(amplitude / first).toBeCloseTo(shapeAmplitude(shape, width, n), 2);
    if (shapeAmplitude(shape, width, n) < 0.01) continue;
    const off = cycles - shapeCycles(shape, width, n);
    expect(off - Math.round(off)).toBeCloseTo(0, 2);
  }
});

describe('The nearest shape', () => {
  it.each(['sine', 'triangle', 'saw', 'square'] as const)('of a %s is that', (shape) => {
    const found = nearestShape(ofShape(shape));
    expect(found.shape).toBe(shape);
    expect(found.errorDb).toBeLessThan(0.1);
  });

  it.each([0.12, 0.25, 0.33])('of a pulse tells its width: %d', (width) => {
    const found = nearestShape(ofShape('pulse', width));
    expect(found.shape).toBe('pulse');
    expect(found.pulseWidth).toBeCloseTo(width, 2);
  });

  it('is further off the less it is one', () => {
    const errors = [0, 3, 6].map(
      (off) => nearestShape(ofShape('saw').map((level, i) => level - (i % 3) * off)).errorDb,
    );
    expect(errors[1]).toBeGreaterThan(errors[0]);
    expect(errors[2]).toBeGreaterThan(errors[1]);
  });

  it('goes by what can be heard: partials far down may be anything', () => {
    expect(nearestShape(ofShape('square').map((level) => Math.max(-63, level))).shape).toBe('square');
  });
});

describe('Odd partials over even ones', () => {
  it('are far stronger in a square, and alike in a saw but for its tilt', () => {
    expect(oddMinusEvenDb(ofShape('square'))!).toBeGreaterThan(30);
    expect(Math.abs(oddMinusEvenDb(ofShape('saw'))!)).toBeLessThan(2);
  });

  it('are not told of two or three', () => {
    expect(oddMinusEvenDb([0, -6, -10])).toBeNull();
  });
});

describe('The tilt', () => {
  it.each([-12, -6, -3, 0, 4])('is told of partials that fall by %d dB an octave', (tilt) => {
    expect(tiltDbPerOctave(levelsOf(() => 1, tilt))).toBeCloseTo(tilt, 6);
  });

  it('leaves out what lies too far under the strongest', () => {
    const cut = levelsOf(() => 1, -6).map((level, i) => (i > 20 ? -110 : level));
    expect(tiltDbPerOctave(cut)).toBeCloseTo(-6, 6);
  });

  it('is none of a single partial', () => {
    expect(tiltDbPerOctave(ofShape('sine'))).toBeNull();
  });
});

describe('Partials that stand out', () => {
  const raised = (n: number, db: number, levels = ofShape('saw')) =>
    levels.map((level, i) => (i === n - 1 ? level + db : level));

  it.each([3, 7, 12])('partial %d, raised by 12 dB, does', (n) => {
    expect(standoutPartials(raised(n, 12))).toEqual([n]);
  });

  it('none does in plain shapes', () => {
    expect(standoutPartials(ofShape('saw'))).toEqual([]);
    expect(standoutPartials(raised(7, 3))).toEqual([]);
  });

  it('a soft one does not, however far over its neighbours', () => {
    const dark = levelsOf(() => 1, -14);
    expect(standoutPartials(raised(20, 15, dark))).toEqual([]);
  });

  it('of two beside one another neither does', () => {
    expect(standoutPartials(raised(8, 12, raised(9, 12)))).toEqual([]);
  });
});
