import { type Slope, lowpassLoss } from '../spectra/filterTrack';
import { type PlainShape, shapeAmplitude } from './spectralShape';

/** A plain waveform of which the fundamental is a multiple of the lowest partial. */
export interface FilteredSource {
  shape: PlainShape;
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

/** Peak of a waveform that goes from -1 to 1 over the amplitude by which its series is told. */
const PEAK: Readonly<Record<PlainShape, number>> = {
  sine: 1,
  triangle: 8 / Math.PI ** 2,
  saw: 2 / Math.PI,
  square: 4 / Math.PI,
  pulse: 4 / Math.PI,
};

/** Powers of some partials. */
const powersOf = ({ shape, pulseWidth, multiple }: FilteredSource, numbers: readonly number[]): Float64Array =>
  Float64Array.from(numbers, (n) =>
    n % multiple === 0 ? (PEAK[shape] * shapeAmplitude(shape, pulseWidth, n / multiple)) ** 2 : 0,
  );

/** What a low-pass, its cutoff so many octaves over the lowest partial, leaves of their power. */
const passedAt = (slope: Slope, octaves: number, resonanceDb: number, numbers: readonly number[]): Float64Array =>
  Float64Array.from(numbers, (n) => 1 / lowpassLoss(slope, n / 2 ** octaves, resonanceDb));

/** A place at which a cutoff may stand. */
export interface Place {
  /** Over the lowest partial. */
  octaves: number;
  /** What it leaves of the power of each partial. */
  passed: Float64Array;
}

/** All places of a cutoff, or every so many of them. */
export const placesOf = (slope: Slope, resonanceDb: number, numbers: readonly number[], stride: number): Place[] =>
  Array.from({ length: Math.floor((OCTAVES * STEPS_PER_OCTAVE) / stride) + 1 }, (_, i) => {
    const octaves = LOWEST_OCTAVE + (i * stride) / STEPS_PER_OCTAVE;
    return { octaves, passed: passedAt(slope, octaves, resonanceDb, numbers) };
  });

/** Powers of partials in front of the filter that moves, and of those that go past it. */
export interface PairModel {
  moving: Float64Array;
  standing: Float64Array;
}

export function modelOf(guess: PairGuess, numbers: readonly number[]): PairModel {
  const { moving, standing, slope, octaves, standingDb, resonancesDb } = guess;
  const gain = 10 ** (standingDb / 10);
  const passed = passedAt(slope, octaves, resonancesDb[1], numbers);
  return {
    moving: powersOf(moving, numbers),
    standing: powersOf(standing, numbers).map((p, i) => gain * p * passed[i]),
  };
}

const DB = 10 / Math.LN10;

/** @param top power of the loudest partial of all frames */
export function lookAt(amplitudes: Float64Array, top: number, numbers: readonly number[]): LookedAt {
  const powers = Float64Array.from(numbers, (n) => amplitudes[n - 1] ** 2 + FLOOR * top);
  const strongest = powers.reduce((most, p) => Math.max(most, p), 0);
  const weights = powers.map((p, i) => (0.1 + Math.sqrt(p / strongest)) * numbers[i] ** -0.3);
  return {
    numbers,
    decibels: powers.map((p) => DB * Math.log(p)),
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
  const { moving, standing } = model;
  const { passed } = place;
  const count = numbers.length;
  if (off.length < count) off = new Float64Array(count);
  let strongest = 0;
  for (let i = 0; i < count; i++) {
    off[i] = moving[i] * passed[i] + standing[i];
    if (off[i] > strongest) strongest = off[i];
  }
  let sum = 0;
  for (let i = 0; i < count; i++) {
    off[i] = decibels[i] - DB * Math.log(off[i] + floor * strongest);
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
