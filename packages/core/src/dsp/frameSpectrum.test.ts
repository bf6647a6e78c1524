import FFT from 'fft.js';
import { createRandom } from '../../test/signals';
import { createFrameSpectrum } from './frameSpectrum';

describe('Spectra of frames', () => {
  it.each([4, 64, 512, 2048])('of %i samples agree with the library fft.js', (size) => {
    const random = createRandom(size);
    const signal = Float64Array.from({ length: 2 * size }, () => random() - 0.5);
    const window = Float64Array.from({ length: size }, random);
    const frame = createFrameSpectrum(size, window);
    // Frames before, within and after the signal.
    for (const start of [-size / 2 - 1, 3, size + 5, 2 * size]) {
      const judge = new FFT(size);
      const expected = judge.createComplexArray() as number[];
      judge.realTransform(
        expected,
        Array.from(window, (w, i) => w * (signal[start + i] ?? 0)),
      );
      frame.transform(signal, start);
      for (let k = 0; k <= size / 2; k++) {
        expect(frame.real[k]).toBeCloseTo(expected[2 * k], 9);
        expect(frame.imaginary[k]).toBeCloseTo(expected[2 * k + 1], 9);
      }
    }
  });
});
