import { type EnvelopeProgram, compileEnvelope, envelopeValue } from '../../patch/envelopeCurve';
import { nelderMead } from '../../dsp/nelderMead';
import { decibelsFromGain, gainFromDecibels } from '../../dsp/decibels';
import { SILENT_DB } from '../../parameters/build';
import { quantile } from '../statistics';

/** RMS level over time, each value over one window. */
export interface LevelContour {
  hopSeconds: number;
  windowSeconds: number;
  /** RMS, full scale 1; value i is centred on `i × hopSeconds`. */
  rms: Float64Array;
  /** How the power of a low tone is spread over its period, just after the onset. */
  ripple?: Ripple;
}

/** Power in equal parts of a period, mean 1; part 0 begins at `originSeconds` plus any number of periods. */
interface Ripple {
  periodSeconds: number;
  originSeconds: number;
  power: Float64Array;
}

/** Shortest window; below it a level says more about the waveform than about the tone. */
const MIN_WINDOW_SECONDS = 0.003;
const HOP_SECONDS = 0.001;

/** RMS in windows of whole periods, so that a low tone's own ripple does not look like movement. */
export function measureLevel(
  channels: readonly ArrayLike<number>[],
  sampleRateHz: number,
  f0Hz: number | undefined,
): LevelContour {
  const period = f0Hz ? 1 / f0Hz : 0.01;
  const windowSeconds = period * Math.max(1, Math.ceil(MIN_WINDOW_SECONDS / period));
  const length = channels[0].length;
  const power = new Float64Array(length + 1);
  for (let i = 0; i < length; i++) {
    let sum = 0;
    for (const channel of channels) sum += channel[i] * channel[i];
    power[i + 1] = power[i] + sum / channels.length;
  }
  // Window edges fall between samples; the running sum is read between its points.
  const powerUpTo = (samples: number) => {
    const x = Math.min(length, Math.max(0, samples));
    const whole = Math.floor(x);
    return whole >= length ? power[length] : power[whole] + (x - whole) * (power[whole + 1] - power[whole]);
  };
  const count = Math.floor(length / sampleRateHz / HOP_SECONDS) + 1;
  const rms = new Float64Array(count);
  const half = (windowSeconds * sampleRateHz) / 2;
  for (let i = 0; i < count; i++) {
    const middle = i * HOP_SECONDS * sampleRateHz;
    rms[i] = Math.sqrt(Math.max(0, powerUpTo(middle + half) - powerUpTo(middle - half)) / (2 * half));
  }
  const ripple = f0Hz && f0Hz < RIPPLE_BELOW_HZ ? measureRipple(rms, powerUpTo, sampleRateHz, period) : undefined;
  return { hopSeconds: HOP_SECONDS, windowSeconds, rms, ripple };
}

/** Above this a period is shorter than any attack that matters. */
const RIPPLE_BELOW_HZ = 160;
const RIPPLE_PARTS = 16;
const RIPPLE_PERIODS = 3;

/**
 * A window of one period that is half filled holds half the power only if the waveform is spread evenly over
 * it. A saw's or a sine's is not; taking its shape from the periods after the onset lets an attack much
 * shorter than a period be measured.
 */
function measureRipple(
  rms: Float64Array,
  powerUpTo: (samples: number) => number,
  sampleRateHz: number,
  periodSeconds: number,
): Ripple | undefined {
  const top = rms.reduce((a, b) => Math.max(a, b), 0);
  const onsetSeconds = rms.findIndex((value) => value > 0.1 * top) * HOP_SECONDS;
  const originSeconds = onsetSeconds + 1.5 * periodSeconds;
  if (originSeconds + RIPPLE_PERIODS * periodSeconds > (rms.length - 1) * HOP_SECONDS) return undefined;
  const power = new Float64Array(RIPPLE_PARTS);
  const samplesOf = (periods: number) => (originSeconds + periods * periodSeconds) * sampleRateHz;
  for (let n = 0; n < RIPPLE_PERIODS; n++) {
    const whole = powerUpTo(samplesOf(n + 1)) - powerUpTo(samplesOf(n));
    if (whole <= 0) return undefined;
    for (let part = 0; part < RIPPLE_PARTS; part++) {
      const from = powerUpTo(samplesOf(n + part / RIPPLE_PARTS));
      const to = powerUpTo(samplesOf(n + (part + 1) / RIPPLE_PARTS));
      power[part] += ((to - from) / whole) * (RIPPLE_PARTS / RIPPLE_PERIODS);
    }
  }
  return { periodSeconds, originSeconds, power };
}

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

/**
 * Fits attack, hold, decay, sustain, note-off and release to a whole level contour at once. The model is the
 * very curve that the engine plays, blurred by the same window as the measurement, so a window longer than
 * the attack does no harm.
 */
export function fitContour(contour: LevelContour): FittedContour {
  const top = quantile(contour.rms, 0.995) || 1e-9;
  const grid = fitGrid(contour, top);
  const target = grid.map((seconds) => compress(readContour(contour, seconds) / top));
  const weights = grid.map((seconds, i) => {
    const before = grid[i - 1] ?? seconds;
    const after = grid[i + 1] ?? seconds;
    // A point stands for the stretch of time around it; the square root keeps short events from drowning.
    return Math.sqrt(Math.max(1e-4, (after - before) / 2));
  });
  const end = grid[grid.length - 1];
  const costOf = (held: boolean) => (point: readonly number[]) => {
    const model = decode(point, held);
    if (model.onset < -0.02 || model.full > 4 || model.full < 0.2 || model.attack + model.hold > end) return Infinity;
    let sum = 0;
    for (let i = 0; i < grid.length; i++) {
      sum += weights[i] * (compress(blurred(model, grid[i], contour)) - target[i]) ** 2;
    }
    return sum;
  };
  const released = search(costOf(false), startingPoints(contour, top, end, false));
  const held = search(costOf(true), startingPoints(contour, top, end, true));
  // Any decay can also be told as an early note-off with a long release; the plainer story is preferred.
  const isHeld =
    held.cost <= HELD_PREFERENCE * released.cost || fitError(decode(held.point, true), contour, top) < CLOSE_ENOUGH_DB;
  return describe(decode((isHeld ? held : released).point, isHeld), contour, top);
}

/** How much worse a fit without note-off may be and still be taken. */
const HELD_PREFERENCE = 1.35;
/** A fit this close is not bettered by a longer story, however small what it leaves. */
const CLOSE_ENOUGH_DB = 0.4;

/** The best of several short searches, followed to its end. */
function search(cost: (point: readonly number[]) => number, starts: StartingPoint[]) {
  const tried = starts.map((start) => nelderMead(cost, encode(start), STEPS, 220));
  tried.sort((a, b) => a.cost - b.cost);
  const polished = tried.slice(0, 2).map(({ point }) => nelderMead(cost, point, STEPS, 700));
  const closest = polished.reduce((a, b) => (b.cost < a.cost ? b : a));
  return nelderMead(
    cost,
    closest.point,
    STEPS.map((step) => step / 4),
    500,
  );
}

interface Model {
  onset: number;
  program: EnvelopeProgram;
  attack: number;
  hold: number;
  decay: number;
  sustainDb: number;
  off: number;
  release: number;
  full: number;
}

type StartingPoint = Pick<Model, 'onset' | 'attack' | 'hold' | 'decay' | 'sustainDb' | 'off' | 'release'>;

const logSeconds = (seconds: number) => Math.log(Math.max(2e-4, seconds));
/**
 * First simplex: onset (s), log attack, log hold, log decay, sustain (dB), note-off (s), log release, log
 * full level.
 */
const STEPS = [0.004, 0.7, 0.7, 0.6, 5, 0.03, 0.6, 0.1];

const encode = ({ onset, attack, hold, decay, sustainDb, off, release }: StartingPoint) => [
  onset,
  logSeconds(attack),
  logSeconds(hold),
  logSeconds(decay),
  sustainDb,
  off,
  logSeconds(release),
  0,
];

function decode(
  [onset, attackLog, holdLog, decayLog, sustain, off, releaseLog, fullLog]: readonly number[],
  held: boolean,
): Model {
  const limit = (value: number) => Math.min(60, Math.exp(value));
  const attack = limit(attackLog);
  const hold = limit(holdLog);
  const decay = limit(decayLog);
  const release = limit(releaseLog);
  const sustainDb = Math.min(0, Math.max(SILENT_DB, sustain));
  const program = compileEnvelope({
    attackSeconds: attack,
    holdSeconds: hold,
    decaySeconds: decay,
    sustainDb,
    releaseSeconds: release,
  });
  return {
    onset,
    program,
    attack,
    hold,
    decay,
    sustainDb,
    off: held ? Infinity : Math.max(onset, off),
    release,
    full: Math.exp(fullLog),
  };
}

const BLUR_POINTS = 5;

/** The model's RMS over the measuring window around a time. */
function blurred(model: Model, seconds: number, { windowSeconds, ripple }: LevelContour): number {
  const { program, onset, off, full } = model;
  const reach = windowSeconds / 2;
  const nearOnset = seconds > onset - reach && seconds < onset + program.attackSeconds + reach;
  const nearOff = Math.abs(seconds - off) < reach;
  // Elsewhere the curve is smooth, and its middle stands for the window.
  if (!nearOnset && !nearOff) return full * envelopeValue(program, seconds - onset, off - onset);
  const points = nearOnset && ripple ? RIPPLE_PARTS : BLUR_POINTS;
  let power = 0;
  for (let i = 0; i < points; i++) {
    const at = seconds + windowSeconds * ((i + 0.5) / points - 0.5);
    power += envelopeValue(program, at - onset, off - onset) ** 2 * (nearOnset && ripple ? powerAt(ripple, at) : 1);
  }
  return full * Math.sqrt(power / points);
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
function fitGrid({ rms, hopSeconds }: LevelContour, top: number): number[] {
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
  return grid;
}

function startingPoints(contour: LevelContour, top: number, end: number, held: boolean): StartingPoint[] {
  const { rms, hopSeconds } = contour;
  const first = (test: (value: number) => boolean) => Math.max(0, rms.findIndex(test)) * hopSeconds;
  const onset = first((value) => value > 0.03 * top);
  const nearTop = first((value) => value > 0.9 * top);
  const attack = Math.max(0.001, nearTop - onset);
  const last = rms.findLastIndex((value) => value > 0.03 * top) * hopSeconds;
  const starts: StartingPoint[] = [];
  // Where the note may end: at the steepest falls of the level, or not at all.
  for (const off of held ? [end] : [...steepestFalls(contour, top, nearTop), last]) {
    const heldDb = decibelsFromGain(readContour(contour, off - contour.windowSeconds) / top, -60);
    const release = Math.max(0.01, 2 * (last - off));
    const length = Math.min(off, last) - nearTop;
    starts.push(
      { onset, attack, hold: 0.001, decay: Math.max(0.02, length / 3), sustainDb: heldDb, off, release },
      { onset, attack, hold: 0.001, decay: Math.max(0.02, length), sustainDb: Math.min(-30, heldDb), off, release },
      {
        onset,
        attack,
        hold: Math.max(0.001, length / 2),
        decay: Math.max(0.02, length / 4),
        sustainDb: heldDb - 1,
        off,
        release,
      },
    );
  }
  return starts;
}

/** Up to two times after which the level falls most within 30 ms (in dB, down to the floor). */
function steepestFalls({ rms, hopSeconds }: LevelContour, top: number, after: number): number[] {
  const span = Math.max(1, Math.round(0.03 / hopSeconds));
  const falls: { at: number; fall: number }[] = [];
  for (let i = Math.ceil(after / hopSeconds); i + span < rms.length; i++) {
    const from = decibelsFromGain(rms[i] / top, FLOOR_DB);
    if (from < -45) continue;
    falls.push({ at: i * hopSeconds, fall: from - decibelsFromGain(rms[i + span] / top, FLOOR_DB) });
  }
  falls.sort((a, b) => b.fall - a.fall);
  const second = falls.find(({ at }) => Math.abs(at - falls[0].at) > 0.08);
  return [falls[0], second].filter((fall) => fall !== undefined).map(({ at }) => at);
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

function describe(model: Model, contour: LevelContour, top: number): FittedContour {
  const { onset, attack, hold, decay, sustainDb, release, full } = model;
  const fitted = {
    onsetSeconds: Math.max(0, onset),
    attackSeconds: attack,
    fullRms: full * top,
    errorDb: fitError(model, contour, top),
  };
  const held = model.off > (contour.rms.length - 1) * contour.hopSeconds - contour.windowSeconds;
  const plateau = hold > Math.max(PLATEAU.seconds, PLATEAU.ofDecay * decay) && sustainDb < PLATEAU.silentDb;
  if (plateau) {
    // The same curve in other words: the fall after the plateau is the release; a sustain that low is the
    // floor.
    const releaseSeconds = (decay * Math.log(1000)) / -Math.log(0.05);
    return {
      ...fitted,
      holdSeconds: 0,
      decaySeconds: 0,
      sustainDb: 0,
      noteOffSeconds: onset + attack + hold,
      releaseSeconds,
    };
  }
  return {
    ...fitted,
    holdSeconds: hold,
    decaySeconds: decay,
    sustainDb,
    noteOffSeconds: held ? null : model.off,
    releaseSeconds: held ? null : release,
  };
}

function fitError(model: Model, contour: LevelContour, top: number): number {
  let sum = 0;
  let count = 0;
  for (let i = 0; i < contour.rms.length; i += 4) {
    const measured = decibelsFromGain(contour.rms[i] / top);
    if (measured < -40) continue;
    const modelled = decibelsFromGain(blurred(model, i * contour.hopSeconds, contour), -60);
    sum += (measured - modelled) ** 2;
    count++;
  }
  return count > 0 ? Math.sqrt(sum / count) : 0;
}

/** When the tone counts as sounding: from the onset to a little after note-off. */
export function soundingSpan(
  { onsetSeconds, noteOffSeconds }: FittedContour,
  durationSeconds: number,
): [number, number] {
  return [onsetSeconds, Math.max(onsetSeconds + 0.02, noteOffSeconds ?? durationSeconds)];
}

const AUDIBLE_SHARE = 0.01;

/** When a level is 40 dB under its highest for good, seconds. */
export function audibleUntil({ rms, hopSeconds }: LevelContour): number {
  const top = rms.reduce((a, b) => Math.max(a, b), 0);
  return (
    Math.max(
      0,
      rms.findLastIndex((value) => value > AUDIBLE_SHARE * top),
    ) * hopSeconds
  );
}
