import { erbBands, erbNumber, hzOfErb, quietDb, spread, sumBands } from './bands';

const RATE_HZ = 44100;
const SIZE = 2048;
const BIN_HZ = RATE_HZ / SIZE;

// Glasberg & Moore 1990: ERB = 24.7 (4.37 f/kHz + 1).
it.each([100, 440, 1000, 4000, 10000])('counts in steps of an equivalent rectangular bandwidth at %d Hz', (hz) => {
  const width = 24.7 * (0.00437 * hz + 1);
  expect(erbNumber(hz + width / 2) - erbNumber(hz - width / 2)).toBeCloseTo(1, 1);
  expect(hzOfErb(erbNumber(hz))).toBeCloseTo(hz, 6);
});

describe('Bands', () => {
  const bands = erbBands(RATE_HZ, SIZE, 45, 1);
  const sums = (power: (hz: number) => number) => {
    const out = new Float64Array(bands.count);
    const powers = Float64Array.from({ length: SIZE / 2 }, (_, k) => power(k * BIN_HZ));
    sumBands(bands, powers, out, 0);
    return out;
  };

  it('reach from the lowest frequency to 16 kHz, evenly on the scale of the ear', () => {
    const { centresHz, count } = bands;
    expect(centresHz[0]).toBeCloseTo(45, 6);
    expect(centresHz[count - 1]).toBeLessThanOrEqual(16000);
    expect(hzOfErb(erbNumber(centresHz[count - 1]) + 1)).toBeGreaterThan(16000);
    for (let b = 1; b < count; b++) expect(erbNumber(centresHz[b]) - erbNumber(centresHz[b - 1])).toBeCloseTo(1, 9);
  });

  it('do not reach over what the rate holds', () => {
    const low = erbBands(16000, SIZE, 45, 1);
    expect(Math.max(...low.centresHz)).toBeLessThan(0.42 * 16000);
  });

  it('each hold two bins at least', () => {
    for (let b = 0; b < bands.count; b++) expect(bands.starts[b + 1] - bands.starts[b]).toBeGreaterThanOrEqual(2);
  });

  it('share out what lies between two of them and lose nothing', () => {
    // Above some 600 Hz they are wider than bins, and nothing is counted twice.
    for (const hz of [900, 1234, 2500, 7000]) {
      const bin = Math.round(hz / BIN_HZ);
      const out = sums((at) => (Math.round(at / BIN_HZ) === bin ? 1 : 0));
      expect(out.reduce((sum, x) => sum + x, 0)).toBeCloseTo(1, 1);
      const top = out.indexOf(Math.max(...out));
      expect(Math.abs(erbNumber(bands.centresHz[top]) - erbNumber(bin * BIN_HZ))).toBeLessThanOrEqual(0.51);
    }
  });

  it('write from a place on and leave the rest', () => {
    const out = new Float64Array(bands.count + 4).fill(7);
    sumBands(bands, new Float64Array(SIZE / 2).fill(1), out, 2);
    expect([out[0], out[1], out.at(-1), out.at(-2)]).toEqual([7, 7, 7, 7]);
  });
});

describe('What one band excites in its neighbours', () => {
  it('falls off more steeply downwards than upwards', () => {
    const bands = erbBands(RATE_HZ, SIZE, 45, 1);
    const powers = new Float64Array(bands.count).fill(1e-12);
    powers[15] = 1;
    spread(bands, powers, 0);
    const db = powers.map((power) => 10 * Math.log10(power));
    expect(db[15]).toBe(0);
    expect(db[15] - db[16]).toBeCloseTo(db[16] - db[17], 6);
    expect(db[15] - db[14]).toBeGreaterThan(db[15] - db[16]);
  });

  it('covers nothing that is louder than that', () => {
    const bands = erbBands(RATE_HZ, SIZE, 45, 1);
    const even = new Float64Array(bands.count).fill(0.5);
    spread(bands, even, 0);
    expect([...even]).toEqual(Array.from(even, () => 0.5));
  });
});

// Terhardt 1979; the ear is most sensitive at 3 to 4 kHz (ISO 226 has the same valley).
it('hears soft tones best at 3 to 4 kHz', () => {
  const hz = Array.from({ length: 200 }, (_, i) => 40 * 2 ** (i / 22));
  const best = hz.reduce((a, b) => (quietDb(b) < quietDb(a) ? b : a));
  expect(best).toBeGreaterThan(2800);
  expect(best).toBeLessThan(4200);
  expect(quietDb(1000)).toBeCloseTo(3.4, 0);
  expect(quietDb(50)).toBeGreaterThan(35);
});
