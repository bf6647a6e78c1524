import { createRandom } from '../../test/signals';
import { analyseStft, frameMiddle, synthesiseStft } from './stft';

it.each([1, 100, 4096, 10000])('gives back a signal of %i samples, its edges as well', (length) => {
  const random = createRandom(length);
  const signal = Float32Array.from({ length }, () => random() - 0.5);
  const back = synthesiseStft(analyseStft(signal, 1024), length);
  expect(back.length).toBe(length);
  back.forEach((x, i) => expect(Math.abs(x - signal[i])).toBeLessThan(1e-6));
});

it('has a click in the frames around it', () => {
  const signal = new Float32Array(8192);
  signal[5000] = 1;
  const { size, bins, count, real, imaginary } = analyseStft(signal, 1024);
  for (let frame = 0; frame < count; frame++) {
    const level = Math.hypot(real[frame * bins + 40], imaginary[frame * bins + 40]);
    expect(level > 1e-6).toBe(Math.abs(frameMiddle(frame, size) - 5000) < size / 2);
  }
});
