import { widthOverTime } from './widthOverTime';

const RATE_HZ = 44100;
const wave = (gain: number) => Float32Array.from({ length: RATE_HZ / 2 }, (_, i) => gain * Math.sin(0.03 * i));

// Side over mid of gains g and h is (g − h)² / (g + h)².
it.each([
  [1, 1, -60],
  [1, 0, 0],
  [1, 0.5, 20 * Math.log10(0.5 / 1.5)],
])('is side against mid (gains %f and %f)', (g, h, widthDb) => {
  const { values } = widthOverTime({ channels: [wave(g), wave(h)], sampleRateHz: RATE_HZ });
  expect(values[20]).toBeCloseTo(widthDb, 3);
});

it('is least of mono, and nothing in silence', () => {
  expect(widthOverTime({ channels: [wave(1)], sampleRateHz: RATE_HZ }).values[20]).toBe(-60);
  expect(widthOverTime({ channels: [wave(0), wave(0)], sampleRateHz: RATE_HZ }).values[20]).toBeNull();
});
