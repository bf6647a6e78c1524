import FFT from 'fft.js';
import { createRandom } from '../../test/signals';
import { fftOfSize, nextPowerOfTwo } from './fft';

describe('Fourier transform', () => {
  it.each([2, 4, 8, 16, 32, 256, 2048, 4096, 131072])('of %i points agrees with the library fft.js', (size) => {
    const random = createRandom(size);
    const real = Float64Array.from({ length: size }, random);
    const imaginary = Float64Array.from({ length: size }, random);
    const judge = new FFT(size);
    const input = judge.createComplexArray() as number[];
    for (let i = 0; i < size; i++) [input[2 * i], input[2 * i + 1]] = [real[i], imaginary[i]];
    const expected = judge.createComplexArray() as number[];
    judge.transform(expected, input);
    fftOfSize(size).forward(real, imaginary);
    const miss = real.reduce(
      (most, re, k) => Math.max(most, Math.abs(re - expected[2 * k]), Math.abs(imaginary[k] - expected[2 * k + 1])),
      0,
    );
    expect(miss).toBeLessThan(1e-9);
  });

  it('comes back by its inverse, times the size', () => {
    const random = createRandom(3);
    const original = Float64Array.from({ length: 64 }, random);
    const real = original.slice();
    const imaginary = new Float64Array(64);
    fftOfSize(64).forward(real, imaginary);
    fftOfSize(64).inverse(real, imaginary);
    real.forEach((x, i) => expect(x / 64).toBeCloseTo(original[i], 12));
  });

  it('takes powers of two only', () => {
    expect(() => fftOfSize(12)).toThrow('power of two, got 12');
    expect(nextPowerOfTwo(1025)).toBe(2048);
    expect(nextPowerOfTwo(1024)).toBe(1024);
  });
});
