import { rmsWithin } from '../statistics';

/** Stretches that are looked at for what is least: shorter than a break between two notes. */
const WINDOW_SECONDS = 0.004;
const STEP_SECONDS = 0.001;
/** Where the least before a start is looked for around the moment that was told. */
const AROUND_SECONDS = [-0.05, 0.02] as const;
/** Levels within a decibel are as little. */
const SAME = 1.12;
/** What begins at once is there after this. */
const AT_ONCE_SECONDS = 0.016;
/** Stretches after it hold this much of the tone, so that its own least is seen, and its fall. */
const PERIODS = 1.5;
const LEAST_SEEN_SECONDS = 0.03;
const FALL_SECONDS = 0.02;
/** A tremolo, however steep, leaves something of the tone; what is plucked falls as soon as it is there. */
const GONE_DB = 26;
const PLUCKED_DB = 11;
const FALLEN_DB = 0.7;

/**
 * Whether a tone begins at once out of next to nothing, or out of much less and falls from then on, as a note
 * that is struck does though its oscillators ran on. The least of a waveform is held against the least of
 * what follows, since narrow pulses leave nothing between them either.
 */
export function startsAnew(mono: Float64Array, sampleRateHz: number, f0Hz: number, seconds: number): boolean {
  const rms = (from: number, length: number) => rmsWithin(mono, sampleRateHz, from, from + length);
  const levelsFrom = (from: number, to: number) =>
    Array.from({ length: Math.ceil((to - from) / STEP_SECONDS) }, (_, i) =>
      rms(from + i * STEP_SECONDS, WINDOW_SECONDS),
    );
  const [from, to] = AROUND_SECONDS.map((offset) => seconds + offset);
  const before = levelsFrom(from, to);
  const least = Math.min(...before) + 1e-9;
  // Of a silence the end.
  const last = before.findLastIndex((level) => level < SAME * least);
  const begun = from + last * STEP_SECONDS + WINDOW_SECONDS + AT_ONCE_SECONDS;
  const seen = Math.max(LEAST_SEEN_SECONDS, PERIODS / f0Hz);
  if ((begun + seen) * sampleRateHz > mono.length) return false;
  const dipDb = 20 * Math.log10((Math.min(...levelsFrom(begun, begun + seen)) + 1e-9) / least);
  if (dipDb < PLUCKED_DB) return false;
  return dipDb > GONE_DB || rms(begun, seen) > 10 ** (FALLEN_DB / 20) * rms(begun + FALL_SECONDS, seen);
}

/** A note has ended where it is this far under what it held. */
const ENDED_DB = -12;
/** Before its end, where it still holds. */
const HELD_SECONDS = [0.12, 0.06] as const;

/**
 * When the note before a start ended, where next to nothing is left of it there; undefined where it sounds
 * until the start, or where a start is none.
 *
 * @param fromSeconds when the note before began
 */
export function endBefore(
  mono: Float64Array,
  sampleRateHz: number,
  f0Hz: number,
  fromSeconds: number,
  seconds: number,
): number | undefined {
  if (!startsAnew(mono, sampleRateHz, f0Hz, seconds)) return undefined;
  const levelAt = (at: number) => rmsWithin(mono, sampleRateHz, at, at + WINDOW_SECONDS);
  const [early, late] = HELD_SECONDS.map((before) => Math.max(fromSeconds, seconds - before));
  if (!(late > early)) return undefined;
  const ended = rmsWithin(mono, sampleRateHz, early, late) * 10 ** (ENDED_DB / 20);
  let at = seconds + AROUND_SECONDS[1];
  while (at > late && levelAt(at) > ended) at -= STEP_SECONDS;
  if (!(levelAt(at) < ended)) return undefined;
  while (at > late && levelAt(at) < ended) at -= STEP_SECONDS;
  return at + WINDOW_SECONDS;
}
