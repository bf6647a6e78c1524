import { decibelsFromPower } from '../../dsp/decibels';
import { type Audio, durationOf, toMono } from '../audio';
import { seriesAt } from '../documentParts';
import { measureEnvelopes, powersOf } from '../partials/partialEnvelopes';
import type { Reading } from '../schema';

/** How loud every partial is over time. */
export interface PartialsOverTime {
  startSeconds: number;
  hopSeconds: number;
  /** One line a partial, from the fundamental on, dB of a full-scale sine; empty without a pitch. */
  levelsDb: Float32Array[];
}

const FLOOR_DB = -120;
/** Short enough for an attack; a partial falls on the others' nulls. */
const LEAST_WINDOW_SECONDS = 0.016;
const PERIODS = 3;
const LEAST_HOP_SECONDS = 0.005;
/** Values over a whole cut, at the most. */
const MOST_VALUES = 400;

/**
 * Levels of the first partials of a tone over time, along its pitch as it was measured.
 *
 * @param count of partials, at the most
 */
export function partialsOverTime(audio: Audio, { traits: { pitch } }: Reading, count: number): PartialsOverTime {
  const { f0Hz } = pitch;
  if (f0Hz === null) return { startSeconds: 0, hopSeconds: LEAST_HOP_SECONDS, levelsDb: [] };
  let last = f0Hz;
  const { seconds, hopSeconds, partials } = measureEnvelopes(toMono(audio), audio.sampleRateHz, f0Hz, {
    mostPartials: count,
    // Where no pitch was found, the tone stays where it was.
    f0At: (at) => (last = seriesAt(pitch.contour, at) ?? last),
    windowSeconds: Math.ceil(Math.max(PERIODS, LEAST_WINDOW_SECONDS * f0Hz)) / f0Hz,
    hopSeconds: Math.max(LEAST_HOP_SECONDS, durationOf(audio) / MOST_VALUES),
  });
  return {
    startSeconds: seconds[0] ?? 0,
    hopSeconds,
    levelsDb: partials.map((partial) =>
      Float32Array.from(powersOf(partial), (power) => decibelsFromPower(power, FLOOR_DB)),
    ),
  };
}
