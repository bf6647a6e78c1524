import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { correlation } from '../statistics';
import { type Steps, finish } from '../steps';

export const modes = ['major', 'minor', 'dorian', 'phrygian', 'lydian', 'mixolydian', 'locrian'] as const;
export type Mode = (typeof modes)[number];

export interface Key {
  tonic: string;
  mode: Mode;
  /** How well its profile fits, −1..1. */
  fit: number;
}

export interface FoundKey {
  /** Best first. */
  candidates: Key[];
  /** How far the piece is tuned from A = 440 Hz. */
  tuningCents: number;
  confidence: number;
}

const NAMES = ['C', 'C♯', 'D', 'D♯', 'E', 'F', 'F♯', 'G', 'G♯', 'A', 'A♯', 'B'];

/** Degrees of the church modes, in semitones. */
const SCALES: Record<Mode, readonly number[]> = {
  major: [0, 2, 4, 5, 7, 9, 11],
  minor: [0, 2, 3, 5, 7, 8, 10],
  dorian: [0, 2, 3, 5, 7, 9, 10],
  phrygian: [0, 1, 3, 5, 7, 8, 10],
  lydian: [0, 2, 4, 6, 7, 9, 11],
  mixolydian: [0, 2, 4, 5, 7, 9, 10],
  locrian: [0, 1, 3, 5, 6, 8, 10],
};

/**
 * How well a degree goes with a key, by its part in it: rounded means of the ratings for major and minor of
 * Krumhansl & Kessler 1982. All modes have the same, so that what tells them apart is their degrees alone
 * (our own rule).
 */
const OUTSIDE = 2.4;
const INSIDE = 3.6;
const TONIC = 6.3;
const THIRD = 4.6;
const FIFTH = 4.9;

const profiles = Object.fromEntries(modes.map((mode) => [mode, profileOf(mode)])) as Record<Mode, number[]>;

function profileOf(mode: Mode): number[] {
  const scale = SCALES[mode];
  return Array.from({ length: 12 }, (_, degree) => {
    if (!scale.includes(degree)) return OUTSIDE;
    if (degree === scale[0]) return TONIC;
    return degree === scale[2] ? THIRD : degree === scale[4] ? FIFTH : INSIDE;
  });
}

/** Modes other than major and minor are rarer: they have to fit better by this. */
const RARER = 0.02;

const SIZE_SECONDS = 0.37;
const FROM_HZ = 60;
const TO_HZ = 2000;

/**
 * Key of a piece: the peaks of its spectra give the tuning and how much there is of each pitch class, which
 * is compared with the profile of every mode on every tonic (Krumhansl 1990; chroma of peaks: Gómez 2006).
 * Undefined in silence.
 */
export const findKey = (mono: ArrayLike<number>, sampleRateHz: number): FoundKey | undefined =>
  finish(keySteps(mono, sampleRateHz));

/** The same in steps of a few milliseconds. */
export function* keySteps(mono: ArrayLike<number>, sampleRateHz: number): Steps<FoundKey | undefined> {
  const peaks = yield* peakSteps(mono, sampleRateHz);
  if (peaks.length === 0) return undefined;
  const tuningCents = tuningOf(peaks);
  const chroma = chromaOf(peaks, tuningCents);
  const home = homeOf(peaks, tuningCents);
  const candidates = NAMES.flatMap((tonic, shift) =>
    modes.map((mode): Key => {
      const turned = Float64Array.from({ length: 12 }, (_, degree) => chroma[(degree + shift) % 12]);
      const rarer = mode === 'major' || mode === 'minor' ? 0 : RARER;
      return { tonic, mode, fit: correlation(turned, profiles[mode]) - rarer + HOME_SHARE * home[shift] };
    }),
  ).sort((a, b) => b.fit - a.fit);
  const [first, second] = candidates;
  const lead = first.fit - second.fit;
  const confidence = Math.max(0, Math.min(1, first.fit)) * Math.min(1, 0.5 + lead / 0.12);
  return { candidates: candidates.slice(0, 5), tuningCents, confidence };
}

/**
 * How much the bass says for a tonic, against what the notes say: keys of the same notes differ by no more
 * than this.
 */
const HOME_SHARE = 0.15;
/** Bass notes are the lowest of their moment and not over this. */
const HIGHEST_BASS_MIDI = 55;
/** Of the moments, so many at either end are where a piece is at home. */
const END_SHARE = 0.08;
const END_WEIGHT = 0.5;

/**
 * How much each pitch class is home, 0..1: by how long it is the bass, and whether it is at the beginning and
 * at the end. Source: common practice.
 */
function homeOf(peaks: readonly Peak[], tuningCents: number): Float64Array {
  const moments = 1 + peaks.reduce((last, { moment }) => Math.max(last, moment), 0);
  const lowest = new Map<number, Peak>();
  for (const peak of peaks) {
    const before = lowest.get(peak.moment);
    if (peak.midi < HIGHEST_BASS_MIDI && (!before || peak.midi < before.midi)) lowest.set(peak.moment, peak);
  }
  const bass = [...lowest.values()];
  const ends = Math.max(1, END_SHARE * moments);
  const part = (of: readonly Peak[]) => {
    const chroma = chromaOf(of, tuningCents);
    const all = chroma.reduce((a, b) => a + b, 0);
    return all > 0 ? chroma.map((x) => x / all) : chroma;
  };
  const [whole, first, last] = [
    bass,
    bass.filter(({ moment }) => moment < ends),
    bass.filter(({ moment }) => moment >= moments - ends),
  ].map(part);
  const home = whole.map((x, i) => x + END_WEIGHT * (first[i] + last[i]));
  const top = Math.max(...home);
  return top > 0 ? home.map((x) => x / top) : home;
}

/** How much there is of each pitch class. */
function chromaOf(peaks: readonly Peak[], tuningCents: number): Float64Array {
  const chroma = new Float64Array(12);
  for (const { midi, weight } of peaks) {
    const tuned = midi - tuningCents / 100;
    const nearest = Math.round(tuned);
    const away = tuned - nearest;
    chroma[((nearest % 12) + 12) % 12] += weight * Math.cos(Math.PI * away) ** 2;
  }
  return chroma;
}

interface Peak {
  /** Note number with fractions, A = 440 Hz. */
  midi: number;
  weight: number;
  /** Which spectrum it is of, from 0. */
  moment: number;
}

/**
 * The peaks of spectra half a window apart, weighted by the root of their amplitude, so that loud bars do not
 * outvote the rest.
 */
function* peakSteps(mono: ArrayLike<number>, sampleRateHz: number): Steps<Peak[]> {
  const size = 2 ** Math.round(Math.log2(SIZE_SECONDS * sampleRateHz));
  const spectrum = createFrameSpectrum(size);
  const { real, imaginary } = spectrum;
  const levels = new Float64Array(size / 2);
  const [low, high] = [FROM_HZ, TO_HZ].map((hz) => Math.round((hz * size) / sampleRateHz));
  const peaks: Peak[] = [];
  for (let start = 0; start === 0 || start + size <= mono.length; start += size / 2) {
    const moment = (2 * start) / size;
    yield start / mono.length;
    spectrum.transform(mono, start);
    let loudest = 0;
    for (let k = low - 1; k <= high + 1; k++) {
      levels[k] = Math.log(real[k] ** 2 + imaginary[k] ** 2 + 1e-20);
      loudest = Math.max(loudest, real[k] ** 2 + imaginary[k] ** 2);
    }
    if (loudest < 1e-8) continue;
    const found: Peak[] = [];
    for (let k = low; k <= high; k++) {
      const [before, at, after] = [levels[k - 1], levels[k], levels[k + 1]];
      if (at < before || at <= after || at < Math.log(loudest) - 8) continue;
      // The top of the parabola through three bins of the logarithm (Smith & Serra 1987).
      const shift = (0.5 * (before - after)) / (before - 2 * at + after);
      const hz = ((k + shift) * sampleRateHz) / size;
      found.push({ midi: 69 + 12 * Math.log2(hz / 440), weight: Math.exp(at / 4), moment });
    }
    for (const peak of found) peaks.push(found.some((lower) => isOvertone(peak, lower)) ? quieter(peak) : peak);
  }
  return peaks;
}

/**
 * Partials that are other notes than their fundamental: the third is a fifth, the fifth a third, the seventh
 * nearly a minor seventh.
 */
const STRANGE_PARTIALS = [3, 5, 6, 7, 9, 10];
const SAME_SEMITONES = 0.35;
/** A partial is at most this much stronger than what it belongs to, as a ratio of weights. */
const LOUDER = 0.7;
const OVERTONE_SHARE = 0.5;

/** Whether a peak can be a partial of a lower one, so that it says little about the key. */
const isOvertone = (peak: Peak, lower: Peak) =>
  peak.weight < LOUDER * lower.weight &&
  STRANGE_PARTIALS.some((n) => Math.abs(peak.midi - lower.midi - 12 * Math.log2(n)) < SAME_SEMITONES);

const quieter = (peak: Peak): Peak => ({ ...peak, weight: OVERTONE_SHARE * peak.weight });

/** How far a sound is tuned from A = 440 Hz, cents, −50 to 50; 0 in silence. */
export const findTuning = (mono: ArrayLike<number>, sampleRateHz: number): number =>
  tuningOf(finish(peakSteps(mono, sampleRateHz)));

/** Circular mean of how far the peaks stand from the notes. */
function tuningOf(peaks: readonly Peak[]): number {
  let cosine = 0;
  let sine = 0;
  for (const { midi, weight } of peaks) {
    cosine += weight * Math.cos(2 * Math.PI * midi);
    sine += weight * Math.sin(2 * Math.PI * midi);
  }
  return (100 * Math.atan2(sine, cosine)) / (2 * Math.PI);
}
