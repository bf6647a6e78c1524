import { harmonicTone, saw } from './signals';

/** A contour in the words of the reading: straight attack, hold, exponential decay and release. */
export interface ContourCase {
  name: string;
  f0Hz: number;
  attackSeconds: number;
  holdSeconds: number;
  decaySeconds: number;
  sustain: number;
  noteOffSeconds: number;
  releaseSeconds: number;
}

const row = (
  name: string,
  f0Hz: number,
  attackSeconds: number,
  holdSeconds: number,
  decaySeconds: number,
  sustain: number,
  noteOffSeconds: number,
  releaseSeconds: number,
): ContourCase => ({ name, f0Hz, attackSeconds, holdSeconds, decaySeconds, sustain, noteOffSeconds, releaseSeconds });

/** Eight contours as they come up: plucks, basses, leads, pads. Times from the onset, which is at 0.1 s. */
export const contourCases: ContourCase[] = [
  row('short pluck', 330, 0.002, 0, 0.25, 0.05, 0.5, 0.1),
  row('soft pluck', 220, 0.012, 0, 0.5, 0.1, 0.9, 0.2),
  row('bass', 55, 0.005, 0, 0.4, 0.5, 1.2, 0.15),
  row('low bass', 41.2, 0.02, 0.1, 0.6, 0.3, 1.4, 0.3),
  row('lead', 440, 0.03, 0, 0.3, 0.7, 1.5, 0.12),
  row('organ-like', 262, 0.006, 0, 0.1, 1, 1, 0.06),
  row('pad', 175, 0.4, 0, 0.8, 0.6, 2, 1.2),
  row('swell', 131, 0.9, 0.2, 0.5, 0.4, 2, 0.8),
];

export const ONSET_SECONDS = 0.1;

/** The sound of a case, by its formula. */
export function contourSound({
  f0Hz,
  attackSeconds,
  holdSeconds,
  decaySeconds,
  sustain,
  noteOffSeconds,
  releaseSeconds,
}: ContourCase): Float32Array {
  const held = (t: number) => {
    if (t < attackSeconds) return t / attackSeconds;
    if (t < attackSeconds + holdSeconds) return 1;
    return sustain + (1 - sustain) * 0.05 ** ((t - attackSeconds - holdSeconds) / decaySeconds);
  };
  const envelope = (seconds: number) => {
    const t = seconds - ONSET_SECONDS;
    if (t < 0) return 0;
    return t < noteOffSeconds ? held(t) : held(noteOffSeconds) * 0.001 ** ((t - noteOffSeconds) / releaseSeconds);
  };
  return harmonicTone({
    f0Hz,
    amplitude: saw,
    seconds: ONSET_SECONDS + noteOffSeconds + releaseSeconds + 0.2,
    envelope,
  });
}
