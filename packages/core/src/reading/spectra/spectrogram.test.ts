import { computeSpectrogram } from './spectrogram';

const RATE_HZ = 44100;
const tone = Float64Array.from({ length: RATE_HZ }, (_, i) => 0.5 * Math.sin((2 * Math.PI * 1000 * i) / RATE_HZ));
const shown = (size: number) =>
  computeSpectrogram(tone, RATE_HZ, {
    fromSeconds: 0.3,
    toSeconds: 0.7,
    columns: 20,
    rows: 60,
    minHz: 40,
    maxHz: 16_000,
    size,
  });

it.each([2048, 4096, 8192])('has a sine at its level, whatever the window: %i', (size) => {
  // Exact: amplitude 0.5 is −6 dB of full scale; between two bins a Hann window shows up to 1.4 dB less.
  const { topDb } = shown(size);
  expect(topDb).toBeLessThan(-5.9);
  expect(topDb).toBeGreaterThan(-7.5);
});
