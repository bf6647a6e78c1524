import { type PartialFrames } from './partialFrames';
import type { Reading } from './schema';
import { median } from './statistics';

/** Noise that is weaker than this against the tone is no more than what lines leak. */
const LEAST_DB = -50;
/** Noise of a start that is this much stronger than later belongs to the start only. */
const ATTACK_ONLY_DB = 12;
const ATTACK_SECONDS = 0.06;
/** Mean of an exponential distribution, which the power of noise has, over its median: a median is deaf to single leaks. */
const MEAN_OVER_MEDIAN = 1 / Math.log(2);

/**
 * Noise under a tone, from what stands halfway between its partials in frames of whole periods, where steady partials leave nothing.
 * Levels are against the tone's own power.
 */
export function measureNoise(
  frames: PartialFrames,
  fromSeconds: number,
  toSeconds: number,
): Reading['traits']['noise'] {
  const { count, f0Hz } = frames;
  const inside = [...frames.seconds.keys()].filter(
    (t) => frames.seconds[t] >= fromSeconds && frames.seconds[t] <= toSeconds,
  );
  const reach = 2 / f0Hz;
  const steady = inside.filter(
    (t) => frames.seconds[t] >= fromSeconds + ATTACK_SECONDS + reach && frames.seconds[t] <= toSeconds - reach,
  );
  const nothing = { levelDb: null, centroidHz: null, attackOnly: null };
  if (steady.length < 4) return { ...nothing, confidence: 0 };
  const later = noiseOf(frames, steady);
  const start = inside.filter((t) => frames.seconds[t] <= fromSeconds + ATTACK_SECONDS);
  const early = start.length > 0 ? noiseOf(frames, start) : later;
  const attackOnly = early.db > later.db + ATTACK_ONLY_DB && later.db < LEAST_DB;
  const { db, centroidHz } = attackOnly ? early : later;
  if (db < LEAST_DB) return { ...nothing, confidence: 0.9 };
  // One partial in the whole hearing range leaves few places to look at.
  const confidence = 0.9 * Math.min(1, (count * steady.length) / 60);
  return { levelDb: Number(db.toFixed(2)), centroidHz: Math.round(centroidHz), attackOnly, confidence };
}

/** Level in dB against the tone, and centroid, over some frames. */
function noiseOf({ amplitudes, between, count, f0Hz }: PartialFrames, chosen: readonly number[]) {
  let tone = 0;
  let noise = 0;
  let moment = 0;
  for (let n = 0; n < count; n++) {
    const shares = chosen.map((t) => between[t * count + n]);
    const power = chosen.length > 3 ? MEAN_OVER_MEDIAN * median(shares) : Math.min(...shares);
    noise += power;
    moment += power * (n + 1.5) * f0Hz;
    for (const t of chosen) tone += amplitudes[t * count + n] ** 2 / 2 / chosen.length;
  }
  return { db: 10 * Math.log10(noise / tone + 1e-12), centroidHz: noise > 0 ? moment / noise : 0 };
}
