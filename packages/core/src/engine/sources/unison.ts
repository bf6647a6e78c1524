import { decibelsFromPower, gainFromDecibels } from '../../dsp/decibels';
import { ratioFromSemitones } from '../../dsp/pitch';
import { writeRandom } from '../random';
import type { Factors } from '../tables/readTable';
import type { SourceContext, UnisonRoute } from './source';

export const MAX_UNISON = 16;

/** Slots of what spreads the unison voices of a pitched source. */
export interface UnisonSlots {
  pan: number;
  unisonDetuneCents: number;
  unisonSpacing: number;
  unisonBalance: number;
  unisonSpread: number;
  driftCents: number;
}

/** The unison voices of one source of one note. */
export interface UnisonState {
  /** Frequency of each against the middle. */
  ratios: Float64Array;
  highestRatio: number;
  left: Factors;
  right: Factors;
  /** Whether the factors changed within the last block. */
  moved: boolean;
  /** What the ratios and factors were worked out from. */
  known: { detune: number; spacing: number; balance: number; spread: number; pan: number; count: number };
}

const factors = (): Factors => ({ now: new Float64Array(MAX_UNISON), next: new Float64Array(MAX_UNISON) });

export const createUnison = (): UnisonState => ({
  ratios: new Float64Array(MAX_UNISON),
  highestRatio: 1,
  left: factors(),
  right: factors(),
  moved: false,
  known: { detune: NaN, spacing: NaN, balance: NaN, spread: NaN, pan: NaN, count: 0 },
});

/** How often a drifting pitch takes another direction. */
const DRIFT_HZ = 0.7;
/** Spacing of ±100 % raises places to this power, or its root. */
const SPACING_POWER = 3;

/**
 * Place of a unison voice, −1 (lowest) to 1 (highest).
 *
 * @param spacing −1 bunches the voices in the middle, 1 moves them outwards
 */
export function placeOf(voice: number, count: number, spacing: number): number {
  if (count === 1) return 0;
  const even = (2 * voice) / (count - 1) - 1;
  return spacing === 0 ? even : Math.sign(even) * Math.abs(even) ** (SPACING_POWER ** -spacing);
}

/** Neighbouring pairs of voices go to opposite sides, so that every count is balanced. */
function sideOf(voice: number, count: number, place: number): number {
  return Math.min(voice, count - 1 - voice) % 2 === 0 ? place : -place;
}

/** Where a voice is panned to, −1 to 1: 0 is the middle; a quarter of a turn lies between the sides. */
const angleOf = (side: number) => (Math.PI / 4) * (1 + Math.max(-1, Math.min(1, side)));

/** Power of the sides over that of the middle where voices whose phases are chance are spread, 0 to 1, dB. */
export function sidesOverMiddleDb(count: number, spread: number): number {
  let [sides, middle] = [0, 0];
  for (let u = 0; u < count; u++) {
    const angle = angleOf(spread * sideOf(u, count, placeOf(u, count, 0)));
    sides += (Math.cos(angle) - Math.sin(angle)) ** 2;
    middle += (Math.cos(angle) + Math.sin(angle)) ** 2;
  }
  return decibelsFromPower(sides / middle);
}

/**
 * Brings ratios and factors to the values at the end of the block: voices over the total detune, at constant
 * power in sum, panned at constant power. Does nothing when nothing has changed.
 */
export function spreadUnison(
  state: UnisonState,
  count: number,
  slots: UnisonSlots,
  routes: readonly UnisonRoute[],
  { values, seed, seconds, detuneCents }: SourceContext,
): void {
  const { known, ratios, left, right } = state;
  const detune = Math.max(0, values[slots.unisonDetuneCents] + detuneCents);
  const spacing = values[slots.unisonSpacing] / 100;
  const balance = values[slots.unisonBalance];
  const spread = values[slots.unisonSpread] / 100;
  const pan = values[slots.pan] / 100;
  const drift = values[slots.driftCents];
  const sameCount = known.count === count && known.spacing === spacing;
  if (!sameCount || known.detune !== detune || drift > 0 || routes.length > 0) {
    state.highestRatio = 0;
    for (let u = 0; u < count; u++) {
      const place = placeOf(u, count, spacing);
      if (drift > 0) wander(seed, u, seconds);
      const cents = 0.5 * place * detune + (drift > 0 ? drift * walk[0] : 0);
      ratios[u] = ratioFromSemitones(cents / 100 + routed(routes, 'semitones', place));
      state.highestRatio = Math.max(state.highestRatio, ratios[u]);
    }
  }
  const moved =
    !sameCount || known.balance !== balance || known.spread !== spread || known.pan !== pan || routes.length > 0;
  if (moved || state.moved) {
    for (let u = 0; u < count; u++) {
      left.now[u] = left.next[u];
      right.now[u] = right.next[u];
    }
  }
  state.moved = moved;
  if (moved) {
    let power = 0;
    for (let u = 0; u < count; u++) {
      const place = placeOf(u, count, spacing);
      const level = gainFromDecibels(balance * Math.abs(place) + routed(routes, 'levelDb', place));
      power += level * level;
      const side = spread * sideOf(u, count, place) + pan + routed(routes, 'pan', place) / 100;
      if (side === 0) {
        left.next[u] = right.next[u] = level;
      } else {
        const angle = angleOf(side);
        left.next[u] = level * Math.SQRT2 * Math.cos(angle);
        right.next[u] = level * Math.SQRT2 * Math.sin(angle);
      }
    }
    const scale = power > 0 ? 1 / Math.sqrt(power) : 0;
    for (let u = 0; u < count; u++) {
      left.next[u] *= scale;
      right.next[u] *= scale;
    }
  }
  known.count = count;
  known.detune = detune;
  known.spacing = spacing;
  known.balance = balance;
  known.spread = spread;
  known.pan = pan;
}

/** Starts a note: the factors of the block before the first are those of the first. */
export function startUnison(
  state: UnisonState,
  count: number,
  slots: UnisonSlots,
  routes: readonly UnisonRoute[],
  context: SourceContext,
): void {
  const { known, left, right } = state;
  known.count = 0;
  spreadUnison(state, count, slots, routes, context);
  left.now.set(left.next);
  right.now.set(right.next);
}

function routed(routes: readonly UnisonRoute[], target: UnisonRoute['target'], place: number): number {
  let sum = 0;
  for (let r = 0; r < routes.length; r++) {
    if (routes[r].target === target) sum += routes[r].amount * (routes[r].bipolar ? place : 0.5 * (place + 1));
  }
  return sum;
}

/** Result of `wander`, and what it lies between: numbers that a function returns can be boxed. */
const walk = new Float64Array(3);

/**
 * Leaves a slow random walk between −1 and 1 in `walk`, a function of time alone: smooth steps between random
 * values.
 */
function wander(seed: number, voice: number, seconds: number): void {
  const x = seconds * DRIFT_HZ;
  const k = Math.floor(x);
  const f = x - k;
  writeRandom(walk, 1, seed, 1000 + voice, k);
  writeRandom(walk, 2, seed, 1000 + voice, k + 1);
  walk[0] = 2 * (walk[1] + (walk[2] - walk[1]) * f * f * (3 - 2 * f)) - 1;
}
