/** What is done to both sides of a signal at once, a side in each lane. */
import { BYTES, at, dryLeft, dryRight, left, loopLeft, loopRight, right, state } from './regions';

/** One sample of both sides. */
export function sides(leftPlace: usize, rightPlace: usize, i: i32): v128 {
  return v128.load64_lane(at(rightPlace, i), v128.load64_zero(at(leftPlace, i)), 1);
}

export function setSides(leftPlace: usize, rightPlace: usize, i: i32, x: v128): void {
  v128.store64_lane(at(leftPlace, i), x, 0);
  v128.store64_lane(at(rightPlace, i), x, 1);
}

/** Mixes the dry signal into `left` and `right` by `keeps`, and takes it out of the wet one by `replaces`. */
export function mixSides(count: i32, wet: f64, wetStep: f64, keeps: f64, replaces: f64): void {
  mixSide(left, dryLeft, count, wet, wetStep, keeps, replaces);
  mixSide(right, dryRight, count, wet, wetStep, keeps, replaces);
}

function mixSide(signal: usize, dry: usize, count: i32, wet: f64, wetStep: f64, keeps: f64, replaces: f64): void {
  let wets = f64x2(wet + wetStep, wet + 2 * wetStep);
  const wetSteps = f64x2.splat(2 * wetStep);
  const kept = f64x2.splat(keeps);
  const replaced = f64x2.splat(replaces);
  for (let i = 0; i < count; i += 2) {
    const x = v128.load(at(dry, i));
    const added = f64x2.sub(v128.load(at(signal, i)), f64x2.mul(replaced, x));
    v128.store(at(signal, i), f64x2.add(f64x2.mul(kept, x), f64x2.mul(wets, added)));
    wets = f64x2.add(wets, wetSteps);
  }
}

/** A side of what goes round where nothing filters or drives it, two samples at a time. */
function sendBack(
  own: usize,
  opposite: usize,
  input: usize,
  to: usize,
  first: i32,
  end: i32,
  back: f64,
  backStep: f64,
  across: f64,
  acrossStep: f64,
  side: i32,
): void {
  let backs = f64x2(back + backStep, back + 2 * backStep);
  let acrosses = f64x2(across + acrossStep, across + 2 * acrossStep);
  const backSteps = f64x2.splat(2 * backStep);
  const acrossSteps = f64x2.splat(2 * acrossStep);
  for (let i = first; i < end; i += 2) {
    const round = f64x2.add(f64x2.mul(backs, v128.load(at(own, i))), f64x2.mul(acrosses, v128.load(at(opposite, i))));
    v128.store(at(to, i), f64x2.add(v128.load(at(input, i)), round));
    backs = f64x2.add(backs, backSteps);
    acrosses = f64x2.add(acrosses, acrossSteps);
  }
  // Where a filter would go on from.
  store<f64>(at(state, side), 0);
  store<f64>(at(state, 2 + side), load<f64>(at(to, end - 1)) - load<f64>(at(input, end - 1)));
}

declare function tanh(x: f64): f64;

/**
 * What goes into a pair of delay lines: the dry signal, and what comes out of them, `left` and `right`, sent
 * back and across to the other side by gains that move in straight lines, past one-pole filters that follow
 * by `low`, to take that away, and by `high`, and a soft drive. Leaves it in `loopLeft` and `loopRight`.
 */
export function sendRound(
  from: i32,
  to: i32,
  back: f64,
  backStep: f64,
  across: f64,
  acrossStep: f64,
  low: f64,
  high: f64,
  drive: f64,
  driveStep: f64,
): void {
  const driven = drive !== 1 || driveStep !== 0;
  if (low === 0 && high === 1 && !driven) {
    sendBack(left, right, dryLeft, loopLeft, from, to, back, backStep, across, acrossStep, 0);
    sendBack(right, left, dryRight, loopRight, from, to, back, backStep, across, acrossStep, 1);
    return;
  }
  let backs = f64x2.splat(back);
  let acrosses = f64x2.splat(across);
  let gain = drive;
  const backSteps = f64x2.splat(backStep);
  const acrossSteps = f64x2.splat(acrossStep);
  const lowShare = f64x2.splat(low);
  const highShare = f64x2.splat(high);
  let lows = v128.load(state);
  let highs = v128.load(state, 2 * BYTES);
  for (let i = from; i < to; i++) {
    backs = f64x2.add(backs, backSteps);
    acrosses = f64x2.add(acrosses, acrossSteps);
    const out = sides(left, right, i);
    let round = f64x2.add(f64x2.mul(backs, out), f64x2.mul(acrosses, v128.shuffle<f64>(out, out, 1, 0)));
    lows = f64x2.add(lows, f64x2.mul(lowShare, f64x2.sub(round, lows)));
    highs = f64x2.add(highs, f64x2.mul(highShare, f64x2.sub(f64x2.sub(round, lows), highs)));
    round = highs;
    if (driven) {
      gain += driveStep;
      const bentL = tanh(gain * f64x2.extract_lane(round, 0)) / gain;
      round = f64x2(bentL, tanh(gain * f64x2.extract_lane(round, 1)) / gain);
    }
    setSides(loopLeft, loopRight, i, f64x2.add(sides(dryLeft, dryRight, i), round));
  }
  v128.store(state, lows);
  v128.store(state, highs, 2 * BYTES);
}
