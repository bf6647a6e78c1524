import { decibelsFromGain, gainFromDecibels } from '../../dsp/decibels';
import { leastSquares } from '../../dsp/leastSquares';
import { SILENT_DB } from '../../parameters/build';
import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import { mean, quantile } from '../statistics';
import { type LevelContour, RIPPLE_PARTS, type Ripple } from './levelContour';

/** An envelope fitted to a contour. Times in seconds, levels in dB against the envelope's full level. */
export interface FittedContour {
  onsetSeconds: number;
  attackSeconds: number;
  holdSeconds: number;
  decaySeconds: number;
  sustainDb: number;
  /** Time of note-off, or null when the contour ends while the note is still held. */
  noteOffSeconds: number | null;
  releaseSeconds: number | null;
  /** RMS at the envelope's full level. */
  fullRms: number;
  /** RMS distance of the fit, dB, over the part within 40 dB of the top. */
  errorDb: number;
}

const FIT_POINTS = 240;
const FLOOR_DB = -70;
/** How much more a plainer story may leave and still be taken. */
const PLAINER = 1.35;
/** A decay to silence and an even note that is let go at once are one curve, of which the first is told. */
const AS_PLAIN = 1.1;
/** Three numbers more than an even note has take off so much of what beats by chance. */
const MUCH_PLAINER = 1.7;
const STAYS_SHARE = 0.6;
/** A level that stays and falls is told as a decay only where that is clearly closer. */
const STAYING = 0.8;
const AS_CLOSE_DB = 1;
/** A fit this close is only bettered by a longer story when that leaves so many times less. */
const CLOSE_ENOUGH_DB = 0.4;
const CLEARLY_CLOSER = 4;

/**
 * Fits attack, hold, decay, sustain, note-off and release to a whole level contour at once, by damped least
 * squares from several starts. The model is the curve that the engine plays, blurred by the same window as
 * the measurement, so a window longer than the attack does no harm.
 */
export function fitContour(contour: LevelContour): FittedContour {
  const top = quantile(contour.rms, 0.995) || 1e-9;
  const targets = targetsOf(contour, top);
  const end = targets.seconds[targets.seconds.length - 1];
  const tell = (story: Story, more: readonly Float64Array[] = []) =>
    search(targets, contour, story, [...startingPoints(contour, top, end, story).map(encode), ...more]);
  const held = tell('held');
  const even = tell('even');
  const released = tell('released', [even.point, letGoAt(held.point, end)]);
  const errorDb = ({ model }: typeof released) => fitError(model, contour, top);
  const isEven = even.cost <= MUCH_PLAINER * released.cost && errorDb(even) < errorDb(released) + AS_CLOSE_DB;
  const whole = isEven ? even : released;
  // What stays for most of the note and falls at its end is let go there.
  const staysLong = describe(held.model, contour, top).holdSeconds > STAYS_SHARE * end;
  const plainer = staysLong ? STAYING : whole === even ? AS_PLAIN : PLAINER;
  const isHeld =
    held.cost <= plainer * whole.cost ||
    (!staysLong && held.cost <= CLEARLY_CLOSER * whole.cost && errorDb(held) < CLOSE_ENOUGH_DB);
  return describe(withCloseOnset((isHeld ? held : whole).model, contour, top), contour, top);
}

/** Places around the rise, at the most. */
const MOST_ONSET_PLACES = 400;
const ONSET_ITERATIONS = 20;
const ONSET_DIFFERENCES = [2e-5, 0.002];
const ONSET_STEP = [0.01, 0.5];

/**
 * Fits the rise alone once more, at every place of the contour around it: which of them the grid of the whole
 * happens to have does not tell then, nor does what comes later.
 */
function withCloseOnset(model: Model, contour: LevelContour, top: number): Model {
  const { hopSeconds, windowSeconds, rms } = contour;
  const from = Math.max(0, Math.floor((model.onset - windowSeconds) / hopSeconds));
  const to = Math.min(rms.length - 1, Math.ceil((model.onset + model.attack + windowSeconds) / hopSeconds));
  const stride = Math.max(1, Math.ceil((to - from) / MOST_ONSET_PLACES));
  const count = Math.floor((to - from) / stride);
  if (count < 4) return model;
  const places = placesOf(
    Float64Array.from({ length: count }, (_, i) => (from + i * stride) * hopSeconds),
    contour,
  );
  const values = places.seconds.map((at) => compress(readContour(contour, at) / top));
  const told = (point: ArrayLike<number>): Model => ({
    ...model,
    onset: point[0],
    attack: limit(Math.exp(point[1])),
  });
  const { point } = leastSquares(
    (tried: Float64Array, out: Float64Array) => {
      const one = told(tried);
      if (one.onset < -0.02 || one.attack > 2 * model.attack + windowSeconds) return false;
      for (let i = 0; i < count; i++) out[i] = compress(blurred(one, places, i, windowSeconds)) - values[i];
      return true;
    },
    [model.onset, Math.log(model.attack)],
    { count, differences: ONSET_DIFFERENCES, mostStep: ONSET_STEP, mostIterations: ONSET_ITERATIONS },
  );
  return told(point);
}

/**
 * What can be told of a note: all of it, one that is not let go, one that neither rises nor falls until it is
 * let go. Any decay can also be told as an early note-off with a long release, and what beats as a decay.
 */
type Story = 'released' | 'held' | 'even';

/** Places of a contour, and how the power is spread over the window around each. */
interface Places {
  seconds: Float64Array;
  /** Parts of a window, and the share of each, a row a place; all 1 where a period does not ripple. */
  parts: number;
  shares: Float64Array;
}

const BLUR_POINTS = 5;

function placesOf(seconds: Float64Array, { ripple, windowSeconds }: LevelContour): Places {
  const parts = ripple ? RIPPLE_PARTS : BLUR_POINTS;
  const shares = new Float64Array(seconds.length * parts).fill(1);
  if (ripple) {
    shares.forEach((_, i) => {
      shares[i] = powerAt(ripple, seconds[Math.floor(i / parts)] + offsetOf(i % parts, parts, windowSeconds));
    });
  }
  return { seconds, parts, shares };
}

/** What a fit is held against. */
interface Targets extends Places {
  /** Compressed levels, and what each counts. */
  values: Float64Array;
  weights: Float64Array;
}

function targetsOf(contour: LevelContour, top: number): Targets {
  const seconds = fitGrid(contour, top);
  return {
    ...placesOf(seconds, contour),
    values: seconds.map((at) => compress(readContour(contour, at) / top)),
    weights: seconds.map((at, i) => {
      const before = seconds[i - 1] ?? at;
      const after = seconds[i + 1] ?? at;
      // A point stands for the stretch of time around it; the root keeps short events from drowning.
      return Math.max(1e-4, (after - before) / 2) ** 0.25;
    }),
  };
}

const offsetOf = (part: number, parts: number, windowSeconds: number) => windowSeconds * ((part + 0.5) / parts - 0.5);

/** Onset (s), log attack, hold (s), log decay, root of the sustain, note-off (s), log release, log level. */
const DIFFERENCES = [2e-5, 0.002, 1e-4, 0.002, -1e-3, 2e-4, 0.002, 0.001];
/** As far as one step goes at most. */
const MOST_STEP = [0.05, 1, 0.3, 1, 0.25, 0.2, 1, 0.3];
/** Starts are tried at every third place. */
const FIRST_STRIDE = 3;
const FIRST_ITERATIONS = 6;
const SAME_END = 1.002;
const LAST_ITERATIONS = 40;
const FOLLOWED = 3;

/** The best of several short searches, the best few of them followed to their ends. */
function search(targets: Targets, contour: LevelContour, story: Story, starts: readonly ArrayLike<number>[]) {
  const { windowSeconds } = contour;
  const { seconds, values, weights } = targets;
  const end = seconds[seconds.length - 1];
  const residualsAt = (stride: number) => (point: Float64Array, out: Float64Array) => {
    const model = decode(point, story);
    if (model.onset < -0.02 || model.full > 4 || model.full < 0.2 || model.attack + model.hold > end) return false;
    for (let i = 0, place = 0; i < out.length; i++, place += stride) {
      out[i] = weights[place] * (compress(blurred(model, targets, place, windowSeconds)) - values[place]);
    }
    return true;
  };
  const follow = (point: ArrayLike<number>, stride: number, mostIterations: number) =>
    leastSquares(residualsAt(stride), point, {
      count: Math.ceil(seconds.length / stride),
      differences: DIFFERENCES,
      mostStep: MOST_STEP,
      mostIterations,
    });
  const found = starts
    .map((start) => follow(start, FIRST_STRIDE, FIRST_ITERATIONS))
    .sort((a, b) => a.cost - b.cost)
    // What came to the same end need not be followed twice.
    .filter(({ cost }, i, all) => i === 0 || cost > SAME_END * all[i - 1].cost)
    .slice(0, FOLLOWED)
    .map(({ point }) => follow(point, 1, LAST_ITERATIONS))
    .reduce((a, b) => (b.cost < a.cost ? b : a));
  return { ...found, model: decode(found.point, story) };
}

interface Model {
  onset: number;
  attack: number;
  hold: number;
  decay: number;
  /** As gain. */
  sustain: number;
  off: number;
  release: number;
  full: number;
}

type StartingPoint = Omit<Model, 'full'>;

const MIN_SECONDS = 2e-4;
const MAX_SECONDS = 60;

const encode = ({ onset, attack, hold, decay, sustain, off, release }: StartingPoint) => [
  onset,
  Math.log(attack),
  hold,
  Math.log(decay),
  Math.sqrt(sustain),
  off,
  Math.log(release),
  0,
];

/** The point of a held note as that of one which is let go at the end of the cut. */
const letGoAt = (point: Float64Array, end: number) => point.map((value, i) => (i === 5 ? end : value));

function decode(point: ArrayLike<number>, story: Story): Model {
  // Turned round at its ends, so that a search does not get stuck beyond them.
  const sustain = 1 - Math.abs(1 - (Math.abs(point[4]) % 2));
  return {
    onset: point[0],
    attack: limit(Math.exp(point[1])),
    hold: Math.abs(point[2]),
    decay: limit(Math.exp(point[3])),
    sustain: story === 'even' ? 1 : sustain * sustain,
    off: story === 'held' ? Infinity : Math.max(point[0], point[5]),
    release: limit(Math.exp(point[6])),
    full: Math.exp(point[7]),
  };
}

const limit = (seconds: number) => Math.min(MAX_SECONDS, Math.max(MIN_SECONDS, seconds));

/**
 * The value of the model at a time: the engine's envelope with plain curves, written out since a fit reads it
 * a million times.
 */
export function plainEnvelope({ onset, attack, hold, decay, sustain, off, release }: StartingPoint, at: number) {
  if (at < onset) return 0;
  const t = Math.min(at, off) - onset;
  const fall = t - attack - hold;
  const value =
    t < attack ? t / attack : fall <= 0 ? 1 : sustain + (1 - sustain) * Math.exp((-DECAY_TAUS * fall) / decay);
  return at <= off ? value : value * Math.exp((-RELEASE_TAUS * (at - off)) / release);
}

/** The model's RMS over the measuring window around a place. */
function blurred(model: Model, { seconds, parts, shares }: Places, place: number, windowSeconds: number): number {
  const { onset, attack, off, full } = model;
  const middle = seconds[place];
  const reach = windowSeconds / 2;
  const nearOnset = middle > onset - reach && middle < onset + attack + reach;
  const nearOff = Math.abs(middle - off) < reach;
  // Elsewhere the curve is smooth, and its middle stands for the window.
  if (!nearOnset && !nearOff) return full * plainEnvelope(model, middle);
  let power = 0;
  for (let part = 0; part < parts; part++) {
    const value = plainEnvelope(model, middle + offsetOf(part, parts, windowSeconds));
    power += value * value * (nearOnset ? shares[place * parts + part] : 1);
  }
  return full * Math.sqrt(power / parts);
}

/** Share of the period's power at a time, straight between the middles of the parts. */
function powerAt({ periodSeconds, originSeconds, power }: Ripple, seconds: number): number {
  const turns = (seconds - originSeconds) / periodSeconds;
  const x = (turns - Math.floor(turns)) * RIPPLE_PARTS - 0.5 + RIPPLE_PARTS;
  const part = Math.floor(x);
  const here = power[part % RIPPLE_PARTS];
  return here + (x - part) * (power[(part + 1) % RIPPLE_PARTS] - here);
}

/** Times to compare at: dense where the level changes fast, so that a short attack counts in a long note. */
function fitGrid({ rms: all, hopSeconds, windowSeconds }: LevelContour, top: number): Float64Array {
  // The windows of the last places reach over the end of the cut, where nothing is known.
  const rms = all.subarray(0, Math.max(2, all.length - Math.ceil(windowSeconds / 2 / hopSeconds)));
  const density = new Float64Array(rms.length);
  let total = 0;
  for (let i = 1; i < rms.length; i++) {
    const change = Math.abs(compress(rms[i] / top) - compress(rms[i - 1] / top));
    total += density[i] = change + 1.2 / rms.length;
  }
  const grid: number[] = [];
  let sum = 0;
  for (let i = 0; i < rms.length; i++) {
    sum += density[i];
    if (sum >= (grid.length * total) / FIT_POINTS) grid.push(i * hopSeconds);
  }
  return Float64Array.from(grid);
}

function startingPoints(contour: LevelContour, top: number, end: number, story: Story): StartingPoint[] {
  const { rms, hopSeconds } = contour;
  const first = (test: (value: number) => boolean) => Math.max(0, rms.findIndex(test)) * hopSeconds;
  const onset = first((value) => value > 0.03 * top);
  const nearTop = first((value) => value > 0.9 * top);
  const steep = first((value) => value > 0.3 * top);
  const attack = Math.max(0.001, nearTop - onset);
  const last = rms.findLastIndex((value) => value > 0.03 * top) * hopSeconds;
  const starts: StartingPoint[] = [];
  // Where the note may end: at the steepest falls of the level, or not at all.
  for (const off of story === 'held' ? [end] : [...steepestFalls(contour, top, nearTop), last]) {
    const sustain = Math.min(1, readContour(contour, off - contour.windowSeconds) / top);
    const release = Math.max(0.01, 2 * (last - off));
    const length = Math.min(off, last) - nearTop;
    const start = { onset, attack, hold: 0.001, sustain, off, release };
    // What beats may come to its top long after it has begun.
    starts.push(
      { ...start, decay: Math.max(0.02, length / 3) },
      { ...start, attack: 0.005, decay: Math.max(0.02, length / 3) },
    );
    if (story === 'even') continue;
    starts.push(
      { ...start, decay: Math.max(0.02, length), sustain: Math.min(0.03, sustain) },
      { ...start, decay: Math.max(0.02, length / 4), hold: Math.max(0.001, length / 2), sustain: 0.9 * sustain },
      { ...start, ...firstFall(contour, top, nearTop, off) },
      // Something soft may go before.
      { ...start, ...firstFall(contour, top, nearTop, off), onset: steep, attack: Math.max(0.001, nearTop - steep) },
    );
  }
  return starts;
}

/** The hold and decay that the way from the top down to the level before note-off looks like. */
function firstFall({ rms, hopSeconds, windowSeconds }: LevelContour, top: number, nearTop: number, off: number) {
  const to = Math.max(1, Math.min(rms.length - 1, Math.round((off - windowSeconds) / hopSeconds)));
  const from = Math.min(to - 1, Math.ceil(nearTop / hopSeconds));
  const way = top - rms[to];
  const lastOver = (share: number) =>
    Math.max(
      from,
      rms.subarray(0, to).findLastIndex((x) => x > rms[to] + share * way),
    );
  const begun = lastOver(0.85) * hopSeconds;
  return { hold: Math.max(0.001, begun - nearTop), decay: Math.max(0.02, 1.5 * (lastOver(0.15) * hopSeconds - begun)) };
}

const FALL_SECONDS = 0.03;
/** A fall begins where the level falls this much as fast as where it falls most. */
const BEGIN_OF_FALL = 0.5;

/**
 * Where the level falls most within 30 ms (in dB, down to the floor), up to two times, and where those falls
 * begin: a fall that is even in dB is steepest anywhere.
 */
function steepestFalls({ rms, hopSeconds }: LevelContour, top: number, after: number): number[] {
  const span = Math.max(1, Math.round(FALL_SECONDS / hopSeconds));
  const first = Math.ceil(after / hopSeconds);
  const levels = Float64Array.from(rms, (value) => decibelsFromGain(value / top, FLOOR_DB));
  const fallAt = (i: number) => levels[i] - levels[i + span];
  const falls = Array.from({ length: Math.max(0, rms.length - span - first) }, (_, i) => first + i)
    .filter((i) => levels[i] >= -45)
    .sort((a, b) => fallAt(b) - fallAt(a));
  const second = falls.find((i) => Math.abs(i - falls[0]) * hopSeconds > 0.08);
  const begun = (steepest: number) => {
    let i = steepest;
    while (i > first && fallAt(i - 1) > BEGIN_OF_FALL * fallAt(steepest)) i--;
    return i;
  };
  const places = [falls[0], second].filter((i) => i !== undefined).flatMap((i) => [i, begun(i)]);
  return places
    .filter((i, n) => !places.slice(0, n).some((other) => Math.abs(i - other) < span / 2))
    .map((i) => i * hopSeconds);
}

/** Level at a time, straight between the contour's points, 0 outside. */
function readContour({ rms, hopSeconds }: LevelContour, seconds: number): number {
  const x = seconds / hopSeconds;
  const i = Math.floor(x);
  if (i < 0 || i >= rms.length - 1) return i === rms.length - 1 ? rms[i] : 0;
  return rms[i] + (x - i) * (rms[i + 1] - rms[i]);
}

const FLOOR_GAIN = gainFromDecibels(FLOOR_DB);

/**
 * Loudness grows about with the square root of amplitude (Stevens); fitting in that domain weighs attack and
 * tail alike.
 */
const compress = (ratio: number) => Math.sqrt(Math.max(ratio, FLOOR_GAIN));

/** A plateau this long against the fall after it is a held note, and its end a note-off. */
const PLATEAU = { seconds: 0.05, ofDecay: 0.5, silentDb: -34 };
const LEAST_DECAY_DB = -0.05;
/** What was this far down before it was let go has no release to be seen. */
const UNHEARD_DB = -50;

function describe(model: Model, contour: LevelContour, top: number): FittedContour {
  const { onset, attack, hold, decay, release, full } = model;
  const sustainDb = decibelsFromGain(model.sustain, SILENT_DB);
  const fitted = {
    onsetSeconds: Math.max(0, onset),
    attackSeconds: attack,
    fullRms: full * top,
    errorDb: fitError(model, contour, top),
  };
  const isHeld = model.off > (contour.rms.length - 1) * contour.hopSeconds - contour.windowSeconds;
  const plateau = hold > Math.max(PLATEAU.seconds, PLATEAU.ofDecay * decay) && sustainDb < PLATEAU.silentDb;
  if (plateau) {
    // The same curve in other words: the fall after the plateau is the release; a sustain that low is the
    // floor.
    return {
      ...fitted,
      holdSeconds: 0,
      decaySeconds: 0,
      sustainDb: 0,
      noteOffSeconds: onset + attack + hold,
      releaseSeconds: (decay * RELEASE_TAUS) / DECAY_TAUS,
    };
  }
  const silent = !isHeld && decibelsFromGain(plainEnvelope(model, model.off)) < UNHEARD_DB;
  return {
    ...fitted,
    // A decay that goes nowhere has no length, nor has what stands before it.
    holdSeconds: sustainDb < LEAST_DECAY_DB ? hold : 0,
    decaySeconds: sustainDb < LEAST_DECAY_DB ? decay : 0,
    sustainDb: sustainDb < LEAST_DECAY_DB ? sustainDb : 0,
    noteOffSeconds: isHeld || silent ? null : model.off,
    releaseSeconds: isHeld || silent ? null : release,
  };
}

function fitError(model: Model, contour: LevelContour, top: number): number {
  const every = Array.from({ length: Math.ceil(contour.rms.length / 4) }, (_, i) => 4 * i);
  const heard = every.filter((i) => decibelsFromGain(contour.rms[i] / top) >= -40);
  const places = placesOf(
    Float64Array.from(heard, (i) => i * contour.hopSeconds),
    contour,
  );
  const errors = heard.map((i, place) => {
    const modelled = decibelsFromGain(blurred(model, places, place, contour.windowSeconds), -60);
    return (decibelsFromGain(contour.rms[i] / top) - modelled) ** 2;
  });
  return errors.length > 0 ? Math.sqrt(mean(errors)) : 0;
}

/** When the tone counts as sounding: from the onset to a little after note-off. */
export function soundingSpan(
  { onsetSeconds, noteOffSeconds }: FittedContour,
  durationSeconds: number,
): [number, number] {
  return [onsetSeconds, Math.max(onsetSeconds + 0.02, noteOffSeconds ?? durationSeconds)];
}
