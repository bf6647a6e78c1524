import { decibelsFromGain } from '../../dsp/decibels';
import { leastSquares } from '../../dsp/leastSquares';
import { SILENT_DB } from '../../parameters/build';
import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import { mean, quantile } from '../statistics';
import { withCloseOnset } from './closeOnset';
import {
  type Model,
  type Places,
  type Story,
  blurred,
  compress,
  compressSlope,
  decode,
  encode,
  letGoAt,
  placesOf,
  plainEnvelope,
  readContour,
  risen,
} from './envelopeModel';
import { slopesAt } from './envelopeSlopes';
import type { FittedContour } from './fittedContour';
import { fromSilence } from './fromSilence';
import type { LevelContour } from './levelContour';
import { riseByWaveform } from './riseByWaveform';
import { startingPoints } from './startingPoints';

const FIT_POINTS = 240;
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
/** Let go so soon after its rise, a note is one that falls, unless that comes so much less close. */
const AT_ONCE_SECONDS = 0.02;
const NO_CLOSER_DB = 0.02;
/** A gain that nobody hears beside the top, -40 dB. */
const SILENT_SUSTAIN = 0.01;
/** A fit this close is only bettered by a longer story when that leaves so many times less. */
const CLOSE_ENOUGH_DB = 0.4;
const CLEARLY_CLOSER = 4;

/**
 * Fits attack, hold, decay, sustain, note-off and release to a whole level contour at once, by damped least
 * squares from several starts. The model is the curve that the engine plays, blurred by the same window as
 * the measurement, so a window longer than the attack does no harm.
 *
 * @param isHeld whether it is known not to be let go before it ends
 */
export function fitContour(measured: LevelContour, isHeld = false): FittedContour {
  const top = quantile(measured.rms, 0.995) || 1e-9;
  const { contour, fromSeconds } = fromSilence(measured, top);
  const targets = targetsOf(contour, top);
  const end = targets.seconds[targets.seconds.length - 1];
  const tellFrom = (story: Story, starts: readonly ArrayLike<number>[]) => search(targets, contour, story, starts);
  const tell = (story: Story, more: readonly ArrayLike<number>[] = []) =>
    tellFrom(story, [...startingPoints(contour, top, end, story).map(encode), ...more]);
  const held = tell('held');
  const { model: told } = isHeld ? held : likeliestOf(held, { tell, tellFrom }, contour, top, end);
  const byLevel = risen(withCloseOnset(told, contour, top));
  const model = contour.waveform ? riseByWaveform(byLevel, contour.waveform) : byLevel;
  const fitted = describe(model, contour, top);
  return {
    ...fitted,
    onsetSeconds: Math.max(0, fitted.onsetSeconds + fromSeconds),
    noteOffSeconds: fitted.noteOffSeconds === null ? null : Math.max(0, fitted.noteOffSeconds + fromSeconds),
  };
}

/** Of all stories the one to tell, given the one of a note that is not let go. */
function likeliestOf(
  whileHeld: Told,
  { tell, tellFrom }: Record<'tell' | 'tellFrom', (story: Story, starts: readonly ArrayLike<number>[]) => Told>,
  contour: LevelContour,
  top: number,
  end: number,
): Told {
  const even = tell('even', []);
  const released = tell('released', [even.point, letGoAt(whileHeld.point, end)]);
  const errorDb = ({ model }: Told) => fitError(model, contour, top);
  const isEven = even.cost <= MUCH_PLAINER * released.cost && errorDb(even) < errorDb(released) + AS_CLOSE_DB;
  const whole = isEven ? even : released;
  // A search that begins elsewhere does not always find the one curve that both words are for.
  const falling = fallingOn(whole.model);
  const asHeld = falling && tellFrom('held', [encode(falling)]);
  const held = asHeld && asHeld.cost < whileHeld.cost ? asHeld : whileHeld;
  // What stays for most of the note and falls at its end is let go there.
  const staysLong = describe(held.model, contour, top).holdSeconds > STAYS_SHARE * end;
  const plainer = staysLong ? STAYING : whole === even ? AS_PLAIN : PLAINER;
  const isEnough =
    held.cost <= plainer * whole.cost ||
    (!staysLong &&
      ((isLetGoAtOnce(whole) && errorDb(held) <= errorDb(whole) + NO_CLOSER_DB) ||
        (held.cost <= CLEARLY_CLOSER * whole.cost && errorDb(held) < CLOSE_ENOUGH_DB)));
  return isEnough ? held : whole;
}

type Told = ReturnType<typeof search>;

const isLetGoAtOnce = ({ model: { onset, attack, off } }: Told) => off < onset + attack + AT_ONCE_SECONDS;

/** Rates at which a tone falls before and after it is let go that are one. */
const SAME_RATE = 1.1;

/** A tone that falls from its top to silence at one rate, as one that is not let go; undefined of others. */
function fallingOn(model: Model): Model | undefined {
  const { onset, attack, hold, decay, sustain, off, release } = model;
  const wholeDecay = (release * DECAY_TAUS) / RELEASE_TAUS;
  const stayed = off - onset - attack;
  const isOne = sustain < SILENT_SUSTAIN && Math.max(decay / wholeDecay, wholeDecay / decay) < SAME_RATE;
  if (!isOne && stayed > AT_ONCE_SECONDS) return undefined;
  return { ...model, hold: Math.max(0, isOne ? hold : stayed), decay: wholeDecay, sustain: 0 };
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

/** As far as one step goes at most, in the units of a point. */
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
  const slopes = new Float64Array(MOST_STEP.length);
  const derivativesAt =
    (stride: number) => (point: Float64Array, left: Float64Array, columns: readonly Float64Array[]) => {
      const writeSlopes = slopesAt(point, story, windowSeconds);
      for (let i = 0, place = 0; i < left.length; i++, place += stride) {
        const factor = weights[place] * compressSlope(writeSlopes(targets, place, slopes));
        for (let axis = 0; axis < slopes.length; axis++) columns[axis][i] = factor * slopes[axis];
      }
    };
  const follow = (point: ArrayLike<number>, stride: number, mostIterations: number) =>
    leastSquares(residualsAt(stride), point, {
      count: Math.ceil(seconds.length / stride),
      differences: derivativesAt(stride),
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
