import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { mean } from '../statistics';

/** Later is an echo. */
const MOST_SECONDS = 0.25;
/** Partials further under the strongest one are left out. */
const PARTIAL_DB = -40;
/** How much faster the partials move once the room comes in. */
const LEAST_RISE_DB = 6;
/** The room's first reflections are looked at for so long. */
const LOOKED_SECONDS = 0.03;
/** Where a rise of half the power is. */
const HALF_DB = -3;
const SILENT = 1e-9;

/** The tone's own beginning or end is the fastest movement so near the time that its level says. */
const BEFORE_SECONDS = 0.04;
const AFTER_SECONDS = 0.06;
/** What begins slowly is answered slowly: its beginning counts so much later, up to this. */
const MOST_LATE_SECONDS = 0.008;

/**
 * Time between a tone and the room behind it, seconds. A held tone's partials stand still once its attack is
 * over, or are gone once it has been let go, until the first reflections arrive, which move them more than
 * any that follow: the mean speed of the complex amplitudes rises from a valley, and its half stands for the
 * arrival (our own method). Undefined where the tone is not held, or itself moves as much, or the room
 * follows within the attack or the release.
 *
 * @param onsetSeconds about when the tone begins
 * @param endSeconds about when it is let go
 */
export function findPreDelay(
  envelopes: PartialEnvelopes,
  onsetSeconds: number,
  endSeconds: number,
): number | undefined {
  const { seconds, hopSeconds, windowSeconds } = envelopes;
  // A pluck is as good as let go where it begins, and never stands still.
  if (endSeconds - onsetSeconds < windowSeconds) return undefined;
  const lag = Math.max(1, Math.round(windowSeconds / 2 / hopSeconds));
  const speedDb = speedsDb(envelopes, lag, onsetSeconds, endSeconds);
  const stepsOf = (time: number) => Math.max(0, Math.round((time - firstMiddle) / hopSeconds));
  const firstMiddle = seconds[0] + (lag * hopSeconds) / 2;
  const blur = Math.round(windowSeconds / hopSeconds);
  const looked = Math.max(2, Math.round(LOOKED_SECONDS / hopSeconds));

  /** Where the rise to a step has come to half of it, in steps; undefined where the cut begins with it. */
  const halfBefore = (i: number): number | undefined => {
    let at = i;
    while (at > 0 && speedDb[at - 1] > speedDb[i] + HALF_DB) at--;
    return at === 0 ? undefined : at - between(at - 1, speedDb[i]);
  };
  /** How far the crossing of half a level lies before the later of two steps. */
  const between = (at: number, topDb: number) =>
    (speedDb[at + 1] - topDb - HALF_DB) / (speedDb[at + 1] - speedDb[at] || 1);

  /** The greatest rise after a beginning or an end, and how much later it is. */
  function riseAfter(aboutSeconds: number): { riseDb: number; seconds: number } | undefined {
    const from = stepsOf(aboutSeconds - BEFORE_SECONDS);
    const own = speedDb.subarray(from, stepsOf(aboutSeconds + AFTER_SECONDS));
    if (own.length === 0) return undefined;
    // Of a cut that begins with the tone, its beginning is not seen.
    const fastest = aboutSeconds < firstMiddle ? 0 : from + own.indexOf(Math.max(...own));
    const begins = halfBefore(fastest);
    let over = fastest;
    while (over < speedDb.length && speedDb[over] > speedDb[fastest] + HALF_DB) over++;
    const beganSeconds =
      begins === undefined
        ? aboutSeconds
        : firstMiddle +
          begins * hopSeconds +
          Math.min(((over - begins) * hopSeconds) / 2, windowSeconds / 4 + MOST_LATE_SECONDS);
    const last = Math.min(fastest + Math.round(MOST_SECONDS / hopSeconds), speedDb.length - blur - looked);
    let most: { riseDb: number; seconds: number } | undefined;
    for (let i = fastest; i < last; i++) {
      const roomDb = mean(speedDb.subarray(i + blur, i + blur + looked));
      const riseDb = roomDb - speedDb[i];
      if (riseDb < Math.max(LEAST_RISE_DB, most?.riseDb ?? 0)) continue;
      let at = i + 1;
      while (speedDb[at] < roomDb + HALF_DB) at++;
      most = { riseDb, seconds: firstMiddle + (at - between(at - 1, roomDb)) * hopSeconds - beganSeconds };
    }
    return most;
  }

  const begun = riseAfter(onsetSeconds);
  const ended = riseAfter(endSeconds);
  const clearer = begun && ended ? (begun.riseDb >= ended.riseDb ? begun : ended) : (begun ?? ended);
  return clearer && Math.max(0, clearer.seconds);
}

/**
 * How fast the complex amplitudes of the partials change, against what each of them has while the tone is
 * held, mean over all, dB.
 */
function speedsDb({ seconds, partials }: PartialEnvelopes, lag: number, from: number, to: number): Float64Array {
  const held = [...seconds.keys()].filter((i) => seconds[i] >= from && seconds[i] <= to);
  const levels = partials.map((partial) => {
    const powers = powersOf(partial);
    return mean(held.map((i) => powers[i]));
  });
  const strongest = Math.max(...levels);
  const loud = [...levels.keys()].filter((n) => levels[n] > strongest * 10 ** (PARTIAL_DB / 10));
  // Where a note was told too early, silence stands in its place.
  if (loud.length === 0) return new Float64Array(0);
  return Float64Array.from({ length: Math.max(0, seconds.length - lag) }, (_, i) => {
    const speeds = loud.map((n) => {
      const { re, im } = partials[n];
      return ((re[i + lag] - re[i]) ** 2 + (im[i + lag] - im[i]) ** 2) / levels[n];
    });
    return 10 * Math.log10(mean(speeds) + SILENT);
  });
}
