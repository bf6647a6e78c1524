import { fftOfSize } from '../../dsp/fft';
import { FRAME_SAMPLES, type Wavetable } from '../schema';
import { wavetableFromSamples } from './wavetableFrames';

/** A wavetable that ships with the program, made by formula when it is asked for. */
export interface BuiltInTable {
  id: string;
  name: string;
  /** What moving the position does. */
  note: string;
  make: () => Wavetable;
}

/**
 * Amplitude of harmonic n at a place 0..1 along the table; all are sines of phase 0, so that frames blend
 * without cancelling.
 */
type Amplitude = (n: number, place: number) => number;

const HARMONICS = 512;
const FRAMES = 32;

function table(id: string, name: string, note: string, amplitude: Amplitude, frames = FRAMES): BuiltInTable {
  return {
    id,
    name,
    note,
    make() {
      const samples = new Float32Array(frames * FRAME_SAMPLES);
      for (let f = 0; f < frames; f++) {
        samples.set(
          frameOf((n) => amplitude(n, f / (frames - 1))),
          f * FRAME_SAMPLES,
        );
      }
      return wavetableFromSamples(id, name, samples);
    },
  };
}

/**
 * One period from the amplitudes of its sines: at the power of a full sine, so that position moves colour and
 * not level, unless that would go over ±1.
 */
function frameOf(amplitude: (n: number) => number): Float64Array {
  const real = new Float64Array(FRAME_SAMPLES);
  const imaginary = new Float64Array(FRAME_SAMPLES);
  let power = 0;
  for (let n = 1; n <= HARMONICS; n++) {
    const a = amplitude(n);
    imaginary[n] = -a;
    power += a * a;
  }
  fftOfSize(FRAME_SAMPLES).inverse(real, imaginary);
  const peak = real.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  const scale = peak > 0 ? Math.min(1 / Math.sqrt(power), 1 / peak) : 0;
  return real.map((x) => x * scale);
}

const saw = (n: number) => 1 / n;
const square = (n: number) => (n % 2 === 1 ? 1 / n : 0);
const triangle = (n: number) => (n % 2 === 1 ? ((n - 1) % 4 === 0 ? 1 : -1) / (n * n) : 0);
const sine = (n: number) => (n === 1 ? 1 : 0);

/** Between neighbours of a list of spectra. */
const through =
  (...spectra: ((n: number) => number)[]): Amplitude =>
  (n, place) => {
    const x = place * (spectra.length - 1);
    const i = Math.min(spectra.length - 2, Math.floor(x));
    return spectra[i](n) + (x - i) * (spectra[i + 1](n) - spectra[i](n));
  };

/**
 * Formants that sweep: a resonance at harmonic `centre`, as wide as `width` octaves, on a falling spectrum.
 */
const formant = (n: number, centre: number, width: number) => Math.exp(-((Math.log2(n / centre) / width) ** 2));

/**
 * Bessel function of the first kind by its power series (Abramowitz & Stegun 9.1.10); exact enough to x = 12.
 */
function bessel(order: number, x: number): number {
  let term = 1;
  for (let k = 1; k <= order; k++) term *= x / 2 / k;
  let sum = term;
  for (let k = 1; k < 60; k++) {
    term *= -((x / 2) ** 2) / (k * (k + order));
    sum += term;
  }
  return sum;
}

/**
 * Sidebands of a sine at the note, modulated by a sine at the note, folded at zero (Chowning 1973): J(n−1) −
 * (−1)ⁿ·J(n+1).
 */
const fm: Amplitude = (n, place) => {
  const index = 10 * place;
  if (n > index + 14) return 0;
  return bessel(n - 1, index) - (n % 2 === 0 ? 1 : -1) * bessel(n + 1, index);
};

/** Tables for common jobs, each made by a formula of our own. */
export const builtInTables: readonly BuiltInTable[] = [
  table('classic', 'Plain shapes', 'from sine over triangle and square to saw', through(sine, triangle, square, saw)),
  table('saw-square', 'Saw to square', 'even partials fade out: buzzy to hollow', (n, place) =>
    n % 2 === 1 ? saw(n) : (1 - place) * saw(n),
  ),
  table(
    'pulse-width',
    'Pulse width',
    'from a square to a needle',
    (n, place) => Math.sin(Math.PI * n * (0.5 - 0.48 * place)) / n,
  ),
  table('vowels', 'Sweeping vowels', 'two formants that cross, as in a mouth that opens', (n, place) => {
    const low = formant(n, 3 + 6 * place, 0.35);
    const high = 0.7 * formant(n, 22 - 10 * place, 0.2);
    return (0.12 + low + high) / n ** 0.8;
  }),
  table('fm', 'FM, growing', 'a sine that modulates itself at its own pitch, index 0 to 10', fm),
  table('odd-even', 'Odd to even', 'odd partials hand over to even ones: an octave appears', (n, place) =>
    n % 2 === 1 ? (1 - 0.95 * place) / n : (0.05 + 0.95 * place) / n,
  ),
  table(
    'comb',
    'Comb',
    'notches that move together through a saw',
    (n, place) => (1.05 + Math.cos(2 * Math.PI * n * (0.03 + 0.22 * place))) / n,
  ),
  table('bells', 'High partials', 'single high partials over a sine, one after the other', (n, place) =>
    n === 1 ? 1 : 0.6 * formant(n, 2 * 2 ** (4 * place), 0.12),
  ),
];
