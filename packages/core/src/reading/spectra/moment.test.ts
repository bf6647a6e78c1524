import { alignedPeriods, createMomentReader, erbAt, hzBetween } from './moment';

const RATE_HZ = 44100;
const sines = (parts: readonly [hz: number, level: number][], seconds = 1, turns = 0) =>
  Float64Array.from({ length: seconds * RATE_HZ }, (_, i) =>
    parts.reduce((sum, [hz, level]) => sum + level * Math.sin(2 * Math.PI * ((hz * i) / RATE_HZ + turns)), 0),
  );
const points = hzBetween(25, 20_000);
const at = (hz: number) =>
  points.reduce((best, own, i) => (Math.abs(own - hz) < Math.abs(points[best] - hz) ? i : best), 0);

// Exact values: a sine of amplitude a is 20 log a dB under full scale.
describe('The spectrum of a moment', () => {
  const reader = createMomentReader(
    sines([
      [440, 0.5],
      [3000, 0.05],
    ]),
    RATE_HZ,
  );

  it.each([
    [440, -6.02],
    [3000, -26.02],
  ])('has a sine of %i Hz at its level, plain and smoothed', (hz, levelDb) => {
    expect(reader.spectrumAt(0.5, points, false)[at(hz)]).toBeGreaterThan(levelDb - 1.5);
    expect(reader.spectrumAt(0.5, points, false)[at(hz)]).toBeLessThan(levelDb + 0.1);
    expect(Math.abs(reader.spectrumAt(0.5, points, true)[at(hz)] - levelDb)).toBeLessThan(0.3);
  });

  it('is nothing where there is nothing, and smooths over an auditory filter', () => {
    const [plain, smooth] = [false, true].map((is) => reader.spectrumAt(0.5, points, is));
    expect(plain[at(8000)]).toBeLessThan(-100);
    // Within half a bandwidth of the sine it is still heard by that filter; beyond it is not.
    expect(smooth[at(3000 + 0.4 * erbAt(3000))]).toBeGreaterThan(-28);
    expect(smooth[at(3000 + 0.8 * erbAt(3000))]).toBeLessThan(-60);
  });

  it('tells the levels of partials at that moment', () => {
    const [first, second] = createMomentReader(
      sines([
        [200, 0.4],
        [402, 0.1],
      ]),
      RATE_HZ,
    ).partialsAt(0.5, 200, 2);
    expect(first).toBeCloseTo(20 * Math.log10(0.4), 0);
    expect(second).toBeCloseTo(-20, 0);
  });

  it('follows time', () => {
    const later = sines([[440, 0.5]]);
    later.fill(0, 0, RATE_HZ / 2);
    const own = createMomentReader(later, RATE_HZ);
    expect(own.spectrumAt(0.2, points, false)[at(440)]).toBeLessThan(-100);
    expect(own.spectrumAt(0.8, points, false)[at(440)]).toBeGreaterThan(-8);
  });
});

it.each([0.1, 0.37, 0.8])('lays one waveform upon another that began %f of a turn later', (turns) => {
  const parts: [number, number][] = [
    [150, 0.5],
    [300, 0.2],
  ];
  const shifted = sines(
    parts.map(([hz, level]) => [hz, level]),
    1,
    0,
  );
  const lag = Math.round((turns * RATE_HZ) / 150);
  const [a, b] = alignedPeriods([sines(parts), shifted.subarray(lag)], RATE_HZ, 0.4, 150, 3);
  const off = Math.max(...a.map((value, i) => Math.abs(value - b[i])));
  expect(off).toBeLessThan(0.06);
});
