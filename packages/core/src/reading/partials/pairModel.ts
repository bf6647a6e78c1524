import { decibelsFromPower } from '../../dsp/decibels';
import { type Slope, qualitiesOf } from '../spectra/filterTrack';
import { shapeAmplitude, shapeCycles } from './spectralShape';

/** A plain waveform of which the fundamental is a multiple of the lowest partial. */
export interface FilteredSource {
  shape: 'saw' | 'square' | 'pulse';
  pulseWidth: number | null;
  multiple: number;
}

/** Two plain waveforms behind a low-pass each; the cutoff over the first is left open. */
export interface PairGuess {
  moving: FilteredSource;
  standing: FilteredSource;
  slope: Slope;
  /** Of the cutoff that stands still over the lowest partial. */
  octaves: number;
  /** Peak of the waveform behind it over that of the other, dB. */
  standingDb: number;
  resonancesDb: readonly [moving: number, standing: number];
  /**
   * Where in its period the waveform that is behind it begins, when the other begins its own; null as long as
   * that is not told, when powers add up where partials of the two meet.
   */
  cycles: number | null;
}

/** A frame's partials of which some are looked at. */
export interface LookedAt {
  numbers: readonly number[];
  /** Of those, in their order. */
  decibels: Float64Array;
  weights: Float64Array;
  /** Of all weights. */
  weight: number;
  /** Under which, against the strongest of them, nothing is heard. */
  floor: number;
}

/** Softer partials of a frame, against the loudest of all, say nothing. */
const FLOOR = 10 ** (-60 / 10);
/** Deviations count no more than this: partials of two sources at one place add up or cancel. */
const MOST_DEVIATION_DB = 9;
/** Places of a cutoff, against the lowest partial. */
const STEPS_PER_OCTAVE = 12;
const LOWEST_OCTAVE = -0.5;
const OCTAVES = 7;

/** Real and imaginary parts. */
interface Complex {
  re: Float64Array;
  im: Float64Array;
}

/** Of the first partial of a waveform from -1 to 1, beside what `shapeAmplitude` gives. */
const firstOf = ({ shape }: FilteredSource) => (shape === 'saw' ? 2 : 4) / Math.PI;

/** Partials of a waveform that begins somewhere in its period. */
function partialsOf(source: FilteredSource, cycles: number, numbers: readonly number[]): Complex {
  const { shape, pulseWidth } = source;
  const first = firstOf(source);
  const [re, im] = [new Float64Array(numbers.length), new Float64Array(numbers.length)];
  numbers.forEach((n, i) => {
    if (n % source.multiple !== 0) return;
    const own = n / source.multiple;
    const size = first * shapeAmplitude(shape, pulseWidth, own);
    const angle = 2 * Math.PI * (shapeCycles(shape, pulseWidth, own) + own * cycles);
    re[i] = size * Math.cos(angle);
    im[i] = size * Math.sin(angle);
  });
  return { re, im };
}

/** What a low-pass makes of them, its cutoff so many octaves over the lowest partial. */
function responseAt(slope: Slope, octaves: number, resonanceDb: number, numbers: readonly number[]): Complex {
  const qualities = qualitiesOf(slope, resonanceDb);
  const [re, im] = [new Float64Array(numbers.length), new Float64Array(numbers.length)];
  const cutoff = 2 ** octaves;
  for (let i = 0; i < numbers.length; i++) {
    const ratio = numbers[i] / cutoff;
    let [x, y] = [1, 0];
    for (const q of qualities) {
      const a = 1 - ratio * ratio;
      const b = ratio / q;
      const size = a * a + b * b;
      const real = (x * a + y * b) / size;
      y = (y * a - x * b) / size;
      x = real;
    }
    re[i] = x;
    im[i] = y;
  }
  return { re, im };
}

/** A place at which a cutoff may stand. */
export interface Place {
  /** Over the lowest partial. */
  octaves: number;
  response: Complex;
}

/** All places of a cutoff, or every so many of them. */
export const placesOf = (slope: Slope, resonanceDb: number, numbers: readonly number[], stride: number): Place[] =>
  Array.from({ length: Math.floor((OCTAVES * STEPS_PER_OCTAVE) / stride) + 1 }, (_, i) => {
    const octaves = LOWEST_OCTAVE + (i * stride) / STEPS_PER_OCTAVE;
    return { octaves, response: responseAt(slope, octaves, resonanceDb, numbers) };
  });

/** Partials in front of the filter that moves, and those that go past it. */
export interface PairModel {
  moving: Complex;
  standing: Complex;
  /** Whether it is known how they stand to one another. */
  isInPhase: boolean;
}

export function modelOf(guess: PairGuess, numbers: readonly number[]): PairModel {
  const { slope, octaves, standingDb, resonancesDb, cycles } = guess;
  const gain = 10 ** (standingDb / 20);
  const { re, im } = partialsOf(guess.standing, cycles ?? 0, numbers);
  const behind = responseAt(slope, octaves, resonancesDb[1], numbers);
  return {
    moving: partialsOf(guess.moving, 0, numbers),
    standing: {
      re: re.map((x, i) => gain * (x * behind.re[i] - im[i] * behind.im[i])),
      im: re.map((x, i) => gain * (x * behind.im[i] + im[i] * behind.re[i])),
    },
    isInPhase: cycles !== null,
  };
}

/** Power of one partial with the cutoff at a place. */
export function powerAt({ moving, standing, isInPhase }: PairModel, { response }: Place, i: number): number {
  const re = moving.re[i] * response.re[i] - moving.im[i] * response.im[i];
  const im = moving.re[i] * response.im[i] + moving.im[i] * response.re[i];
  const [otherRe, otherIm] = [standing.re[i], standing.im[i]];
  return isInPhase ? (re + otherRe) ** 2 + (im + otherIm) ** 2 : re * re + im * im + otherRe ** 2 + otherIm ** 2;
}

/** @param top power of the loudest partial of all frames */
export function lookAt(amplitudes: Float64Array, top: number, numbers: readonly number[]): LookedAt {
  const powers = Float64Array.from(numbers, (n) => amplitudes[n - 1] ** 2 + FLOOR * top);
  const strongest = powers.reduce((most, p) => Math.max(most, p), 0);
  const weights = powers.map((p, i) => (0.1 + Math.sqrt(p / strongest)) * numbers[i] ** -0.3);
  return {
    numbers,
    decibels: powers.map((p) => decibelsFromPower(p)),
    weights,
    weight: weights.reduce((sum, w) => sum + w, 0),
    floor: (FLOOR * top) / strongest,
  };
}

/** A frame against a model with the cutoff at one place. */
export interface Placed {
  /** Mean square of what is left, dB². */
  cost: number;
  place: Place;
  /** Of the frame over the model, which is free, dB. */
  levelDb: number;
}

/** Where the cutoff that moves is in a frame. */
export const nearestPlace = (frame: LookedAt, places: readonly Place[], model: PairModel): Placed =>
  places.map((place) => placed(frame, place, model)).reduce((a, b) => (b.cost < a.cost ? b : a));

/** Room for the work on one frame, which is done some hundred thousand times a tone. */
let off = new Float64Array(64);

function placed({ numbers, decibels, weights, weight, floor }: LookedAt, place: Place, model: PairModel): Placed {
  const count = numbers.length;
  if (off.length < count) off = new Float64Array(count);
  let strongest = 0;
  for (let i = 0; i < count; i++) {
    off[i] = powerAt(model, place, i);
    if (off[i] > strongest) strongest = off[i];
  }
  let sum = 0;
  for (let i = 0; i < count; i++) {
    off[i] = decibels[i] - decibelsFromPower(off[i] + floor * strongest);
    sum += weights[i] * off[i];
  }
  const levelDb = sum / weight;
  let cost = 0;
  for (let i = 0; i < count; i++) {
    const far = Math.min(MOST_DEVIATION_DB, Math.abs(off[i] - levelDb));
    cost += weights[i] * far * far;
  }
  return { cost: cost / weight, place, levelDb };
}
