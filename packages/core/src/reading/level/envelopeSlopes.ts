import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import {
  type Model,
  type Places,
  type Story,
  decode,
  isLimited,
  isNearOff,
  isNearOnset,
  offsetOf,
} from './envelopeModel';

/** Numbers of a point, in the order of `encode`. */
const AXES = 8;

/**
 * How the blurred level of a point changes along each of its axes, by the formulas of the envelope: a search
 * over differences would read the curve once for each axis. Writes eight slopes a place to `out` and returns
 * the level. An axis that a story says nothing of has the slope 0.
 */
export function slopesAt(point: ArrayLike<number>, story: Story, windowSeconds: number) {
  const model = decode(point, story);
  const { full } = model;
  const along = new Float64Array(AXES);
  const sum = new Float64Array(AXES);
  const writeSlopes = envelopeSlopes(point, story, model);
  return ({ seconds, parts, shares }: Places, place: number, out: Float64Array): number => {
    const middle = seconds[place];
    const nearOnset = isNearOnset(model, middle, windowSeconds);
    if (!nearOnset && !isNearOff(model, middle, windowSeconds)) {
      const level = full * writeSlopes(middle, along);
      for (let axis = 0; axis < AXES - 1; axis++) out[axis] = full * along[axis];
      out[AXES - 1] = level;
      return level;
    }
    sum.fill(0);
    let power = 0;
    for (let part = 0; part < parts; part++) {
      const value = writeSlopes(middle + offsetOf(part, parts, windowSeconds), along);
      const weighted = nearOnset ? value * shares[place * parts + part] : value;
      power += value * weighted;
      for (let axis = 0; axis < AXES - 1; axis++) sum[axis] += weighted * along[axis];
    }
    const level = full * Math.sqrt(power / parts);
    const factor = level > 0 ? (full * full) / (level * parts) : 0;
    for (let axis = 0; axis < AXES - 1; axis++) out[axis] = factor * sum[axis];
    out[AXES - 1] = level;
    return level;
  };
}

/** Of the envelope itself at a time; writes the slopes and returns the value. */
function envelopeSlopes(point: ArrayLike<number>, story: Story, model: Model) {
  const { onset, attack, hold, decay, sustain, off, release } = model;
  // What is held at a limit does not move with its axis.
  const [attackMoves, decayMoves, releaseMoves] = [1, 3, 6].map((axis) => (isLimited(point[axis]) ? 0 : 1));
  const holdMoves = point[2] < 0 ? -1 : 1;
  const offIsOnset = point[5] < point[0];
  const turned = Math.abs(point[4]) % 2;
  const rootMoves = (point[4] < 0 ? -1 : 1) * (turned < 1 ? 1 : -1);
  const sustainMoves = story === 'even' ? 0 : 2 * Math.sqrt(sustain) * rootMoves;
  return (at: number, out: Float64Array): number => {
    out.fill(0);
    if (at < onset) return 0;
    const isLetGo = at > off;
    const t = (isLetGo ? off : at) - onset;
    const fall = t - attack - hold;
    let value = 1;
    /** Along the time since the onset. */
    let rise = 0;
    if (t < attack) {
      value = t / attack;
      rise = 1 / attack;
      out[1] = -value * attackMoves;
    } else if (fall > 0) {
      const left = Math.exp((-DECAY_TAUS * fall) / decay);
      value = sustain + (1 - sustain) * left;
      rise = ((sustain - 1) * DECAY_TAUS * left) / decay;
      out[1] = -rise * attack * attackMoves;
      out[2] = -rise * holdMoves;
      out[3] = -rise * fall * decayMoves;
      out[4] = (1 - left) * sustainMoves;
    }
    out[0] = -rise;
    if (!isLetGo) return value;
    out[5] = rise;
    const kept = Math.exp((-RELEASE_TAUS * (at - off)) / release);
    for (let axis = 0; axis <= 5; axis++) out[axis] *= kept;
    value *= kept;
    out[5] += (value * RELEASE_TAUS) / release;
    out[6] = ((value * RELEASE_TAUS * (at - off)) / release) * releaseMoves;
    if (offIsOnset) [out[0], out[5]] = [out[0] + out[5], 0];
    return value;
  };
}
