import { fftOfSize } from '../../dsp/fft';
import type { PartialFrames } from '../../reading/partials/partialFrames';
import type { Evidence, Hypothesis } from './hypothesis';
import { short } from './hypothesis';
import { indexFallOf, pairOf } from './fm';

/** Carrier and modulator as multiples of the note, whose sidebands are all partials of it. */
const PAIRS: readonly (readonly [carrier: number, modulator: number])[] = [
  [1, 1],
  [1, 2],
  [1, 3],
  [1, 4],
  [1, 5],
  [1, 7],
  [2, 1],
  [3, 1],
  [3, 2],
  [5, 1],
];
const INDICES = Array.from({ length: 64 }, (_, i) => 0.08 * 1.085 ** i);
const FEEDBACKS = [0, 0.5, 1];
const COMPARED = 40;
const TURN_POINTS = 256;
const MOST_FRAMES = 24;
/** Frames further under the loudest say little. */
const LOUD_SHARE = 0.05;
/** Share of what is heard that a pair leaves over; more is no pair. */
const MOST_UNEXPLAINED = 0.03;

interface Spectrum {
  index: number;
  /** Square roots of amplitudes of partials, of length 1 together. */
  shape: Float64Array;
}

/**
 * A sine that moves another at a whole ratio: the partials of every frame are compared with those of the pair
 * at every index (one turn of the sum, Chowning 1973, transformed). Nothing where no pair comes near.
 */
export function explainHarmonicFm({ note }: Evidence): Hypothesis[] {
  if (!note.partials) return [];
  const frames = soundingShapes(note.partials);
  if (frames.length === 0) return [];
  let best: { carrier: number; modulator: number; feedback: number; indices: number[]; left: number } | undefined;
  for (const [carrier, modulator] of PAIRS) {
    for (const feedback of FEEDBACKS) {
      const spectra = spectraOf(carrier, modulator, feedback);
      const nearest = frames.map(({ shape }) => nearestTo(shape, spectra));
      const left = nearest.reduce((sum, one) => sum + one.left, 0) / nearest.length;
      if (!best || left < best.left)
        best = { carrier, modulator, feedback, left, indices: nearest.map(({ index }) => index) };
    }
  }
  if (!best || best.left > MOST_UNEXPLAINED) return [];
  const { carrier, modulator, feedback, indices, left } = best;
  const points = frames.map(({ seconds }, i) => ({ seconds, radians: indices[i] }));
  const index = indexFallOf(points, note.fitted.onsetSeconds);
  const why = `the partials are those of a sine at ${carrier} moved by a sine at ${modulator} times the note, by ${short(Math.max(...indices))} radians at most`;
  const pair = { carrierRatio: carrier, modulatorRatio: modulator, index, feedback };
  return [pairOf(pair, 1 - left / MOST_UNEXPLAINED / 2, why)];
}

function soundingShapes({ seconds, count, amplitudes }: PartialFrames): { seconds: number; shape: Float64Array }[] {
  const frames = Array.from(seconds, (at, t) => {
    const levels = amplitudes.subarray(t * count, t * count + Math.min(count, COMPARED));
    return { seconds: at, levels, power: levels.reduce((sum, a) => sum + a * a, 0) };
  });
  const loudest = Math.max(...frames.map(({ power }) => power));
  const heard = frames.filter(({ power }) => power > LOUD_SHARE * LOUD_SHARE * loudest);
  const step = Math.max(1, heard.length / MOST_FRAMES);
  return Array.from({ length: Math.min(MOST_FRAMES, heard.length) }, (_, i) => heard[Math.floor(i * step)]).map(
    (frame) => ({ seconds: frame.seconds, shape: shapeOf(frame.levels) }),
  );
}

/** As an ear weighs partials, rather by their level than by their power. */
function shapeOf(amplitudes: ArrayLike<number>): Float64Array {
  const shape = new Float64Array(COMPARED);
  let sum = 1e-30;
  for (let k = 0; k < amplitudes.length; k++) {
    shape[k] = Math.sqrt(Math.max(0, amplitudes[k]));
    sum += shape[k] * shape[k];
  }
  return shape.map((x) => x / Math.sqrt(sum));
}

function nearestTo(shape: Float64Array, spectra: readonly Spectrum[]): { index: number; left: number } {
  let [best, index] = [-1, 0];
  for (const one of spectra) {
    let dot = 0;
    for (let k = 0; k < shape.length; k++) dot += shape[k] * one.shape[k];
    if (dot > best) [best, index] = [dot, one.index];
  }
  return { index, left: 1 - best * best };
}

const known = new Map<string, Spectrum[]>();

function spectraOf(carrier: number, modulator: number, feedback: number): Spectrum[] {
  const key = `${carrier} ${modulator} ${feedback}`;
  let spectra = known.get(key);
  if (!spectra) {
    const moving = modulatorTurn(modulator, feedback);
    known.set(key, (spectra = INDICES.map((index) => ({ index, shape: shapeOf(partialsOf(carrier, moving, index)) }))));
  }
  return spectra;
}

/** A sine whose own output moves its phase, over one turn of the note. */
function modulatorTurn(modulator: number, feedback: number): Float64Array {
  return Float64Array.from({ length: TURN_POINTS }, (_, i) => {
    const phase = (2 * Math.PI * modulator * i) / TURN_POINTS;
    let value = Math.sin(phase);
    for (let pass = 0; pass < 30; pass++) value = (value + Math.sin(phase + feedback * value)) / 2;
    return value;
  });
}

function partialsOf(carrier: number, moving: Float64Array, index: number): Float64Array {
  const turn = moving.map((m, i) => Math.sin((2 * Math.PI * carrier * i) / TURN_POINTS + index * m));
  const imaginary = new Float64Array(TURN_POINTS);
  fftOfSize(TURN_POINTS).forward(turn, imaginary);
  return Float64Array.from({ length: COMPARED }, (_, k) => Math.hypot(turn[k + 1], imaginary[k + 1]));
}
