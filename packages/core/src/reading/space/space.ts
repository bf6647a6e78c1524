import { leastSquares } from '../../dsp/leastSquares';
import type { FittedContour } from '../level/fittedContour';
import type { LevelContour } from '../level/levelContour';
import { type PartialEnvelopes, powersOf } from '../partials/partialEnvelopes';
import { MIN_STEPS, STEP_SECONDS, echoOf, levelsInSteps, tailOf, tailStarts } from './echo';
import { findPreDelay } from './preDelay';
import type { Reading } from '../schema';
import { fitLine, mean, median } from '../statistics';

export type Space = Reading['traits']['space'];

const none = { rt60Seconds: null, preDelaySeconds: null, echo: null };

/** A note whose end is looked at for what goes on after it. */
export interface Ringing {
  level: LevelContour;
  fitted: FittedContour;
  envelopes: PartialEnvelopes;
  /** Detuned voices fluctuate as a room does. */
  detuned: boolean;
  bpm: number | null;
}

/** Echoes and the room of a note, from what its level and its partials do once it falls. */
export function measureSpace(note: Ringing): Space {
  const levels = levelsInSteps(note.level);
  const found = echoOf(levels, note.bpm);
  if (found) return { ...none, ...found };
  const ends = tailStarts(levels);
  const room = findRoom(note, ends[ends.length - 1] * STEP_SECONDS);
  return room
    ? { ...none, ...room }
    : { ...none, confidence: tailOf(levels, ends[ends.length - 1]) > MIN_STEPS ? 0.6 : 0.3 };
}

/** A tone's own release falls smoothly; a room's partials come and go by this many dB at least. */
const LEAST_FLUCTUATION_DB = 2;
/** Without a kink between release and room, the fluctuation has to say it alone. */
const SINGLE_FLUCTUATION_DB = 2.6;
const MOST_MISFIT_DB = 2.1;
const LEAST_OWN_SECONDS = 0.1;
const LEAST_OWN_DB = 8;
const KINK = 1.6;
const DETUNED_KINK = 3;
/** A room is softer than the note; a dip between voices at its end makes it look so by a few dB. */
const ROOM_DB = -3;
const DETUNED_ROOM_DB = -7;
const MIN_RT60 = 0.12;
const MAX_RT60 = 15;

/**
 * The room from the free decay: levels of the partials after the note falls, each against its own start and
 * averaged in dB so that all count alike, are fitted as the sum of a release and a room, both exponential,
 * the room's held for the pre-delay. RT60 is the room's. That it is one shows in how its partials fluctuate,
 * as those of dense reflections do (Schroeder 1962); a release falls smoothly. The pre-delay is not that of
 * the fit, which the end of a release hides.
 */
function findRoom({ envelopes, fitted, detuned }: Ringing, fromSeconds: number) {
  const { seconds, levelsDb, partials } = tailLevels(envelopes, fromSeconds);
  if (seconds.length < MIN_STEPS) return undefined;
  const fit = fitDecays(seconds, levelsDb);
  const { releaseSeconds, roomSeconds, roomDb, floorDb } = fit;
  if (roomSeconds < MIN_RT60 || roomSeconds > MAX_RT60) return undefined;
  // Where the room is heard by itself: clear of the release, and over the floor.
  const own = [...seconds.keys()].filter((i) => {
    const room = roomAt(fit, seconds[i]);
    return room > releaseAt(fit, seconds[i]) + 6 && room > floorDb + 6;
  });
  if (own.length === 0) return undefined;
  const [first, last] = [own[0], own[own.length - 1]];
  if (seconds[last] - seconds[first] < LEAST_OWN_SECONDS) return undefined;
  if ((60 * (seconds[last] - seconds[first])) / roomSeconds < LEAST_OWN_DB) return undefined;
  const strays = own.map((i) => levelsDb[i] - levelAt(fit, seconds[i]));
  // Echoes and movements come down in steps: a room's partials, taken together, do not.
  if (Math.sqrt(mean(strays.map((db) => db * db))) > MOST_MISFIT_DB) return undefined;
  const fluctuation = fluctuationDb(seconds, partials, first, last);
  const kinked =
    releaseSeconds * (detuned ? DETUNED_KINK : KINK) < roomSeconds && roomDb < (detuned ? DETUNED_ROOM_DB : ROOM_DB);
  if (fluctuation < (kinked ? LEAST_FLUCTUATION_DB : SINGLE_FLUCTUATION_DB) || (!kinked && detuned)) return undefined;
  const preDelay = findPreDelay(envelopes, fitted.onsetSeconds, fromSeconds);
  return {
    rt60Seconds: Number(roomSeconds.toPrecision(4)),
    preDelaySeconds: preDelay === undefined ? null : Number(preDelay.toFixed(4)),
    confidence: Math.min(0.9, (kinked ? 0.6 : 0.4) + 0.08 * (fluctuation - LEAST_FLUCTUATION_DB)),
  };
}

/** Levels of all partials after a time, in steps: each against its own first, and their mean. */
function tailLevels({ seconds, hopSeconds, partials }: PartialEnvelopes, fromSeconds: number) {
  const step = Math.max(1, Math.round(STEP_SECONDS / hopSeconds));
  const first = seconds.findIndex((at) => at >= fromSeconds);
  const powers = partials.map(powersOf);
  const loudest = Math.max(...powers.map((power) => power.reduce((a, b) => Math.max(a, b), 0)));
  const loud = powers.filter((power) => power[Math.max(0, first)] > loudest * 10 ** (PARTIAL_DB / 10));
  const count = first < 0 ? 0 : Math.floor((seconds.length - first) / step);
  const lines = loud.map((power) => {
    const line = Float64Array.from({ length: count }, (_, i) =>
      mean(power.subarray(first + i * step, first + (i + 1) * step)),
    );
    return line.map((x) => 10 * Math.log10(x / line[0] + 1e-12));
  });
  const average = Float64Array.from({ length: lines.length > 0 ? count : 0 }, (_, i) =>
    mean(lines.map((line) => line[i])),
  );
  const end = average.findLastIndex((db) => db > -TAIL_RANGE_DB) + 1;
  return {
    seconds: Float64Array.from({ length: end }, (_, i) => i * step * hopSeconds),
    levelsDb: average.subarray(0, end),
    partials: lines,
  };
}

const PARTIAL_DB = -40;
/** The fit sees the floor of a recording when the tail reaches it. */
const TAIL_RANGE_DB = 85;

interface Decays {
  releaseSeconds: number;
  roomDb: number;
  roomSeconds: number;
  preDelaySeconds: number;
  floorDb: number;
}

const releaseAt = ({ releaseSeconds }: Decays, at: number) => (-60 * at) / releaseSeconds;
const roomAt = ({ roomDb, roomSeconds, preDelaySeconds }: Decays, at: number) =>
  roomDb - (60 * Math.max(0, at - preDelaySeconds)) / roomSeconds;
const levelAt = (decays: Decays, at: number) =>
  10 *
  Math.log10(
    powerFromDecibels(releaseAt(decays, at)) +
      powerFromDecibels(roomAt(decays, at)) +
      powerFromDecibels(decays.floorDb),
  );
const powerFromDecibels = (db: number) => Math.exp((Math.LN10 / 10) * db);

/** Log release, level and log time of the room, pre-delay, floor. */
const DECAY_DIFFERENCES = [1e-3, 0.01, 1e-3, 2e-4, 0.01];
const MOST_DECAY_STEP = [1, 6, 1, 0.03, 10];

/** Two exponentials and a floor, the second after a pre-delay, by least squares in dB. */
function fitDecays(seconds: Float64Array, levelsDb: Float64Array): Decays {
  const decaysOf = (point: ArrayLike<number>): Decays => ({
    releaseSeconds: Math.exp(point[0]),
    roomDb: point[1],
    roomSeconds: Math.exp(point[2]),
    preDelaySeconds: Math.abs(point[3]),
    floorDb: point[4],
  });
  const residuals = (point: Float64Array, out: Float64Array) => {
    const decays = decaysOf(point);
    if (decays.roomSeconds < decays.releaseSeconds || decays.roomDb > 1 || decays.preDelaySeconds > 0.2) return false;
    for (let i = 0; i < out.length; i++) {
      const off = levelsDb[i] - levelAt(decays, seconds[i]);
      // Deep notches of single moments weigh less.
      const far = Math.abs(off) > ROBUST_DB;
      out[i] = far ? Math.sign(off) * Math.sqrt(2 * ROBUST_DB * Math.abs(off) - ROBUST_DB ** 2) : off;
    }
    return true;
  };
  const search = {
    count: seconds.length,
    differences: DECAY_DIFFERENCES,
    mostStep: MOST_DECAY_STEP,
    mostIterations: 30,
  };
  const found = [0.4, 1.2, 4].flatMap((room) =>
    [-4, -16].map((roomDb) => leastSquares(residuals, [Math.log(room / 5), roomDb, Math.log(room), 0.01, -75], search)),
  );
  return decaysOf(found.reduce((a, b) => (b.cost < a.cost ? b : a)).point);
}

const ROBUST_DB = 4;

/**
 * How far the partials stray from straight lines over a stretch, each for itself, dB: what all do together is
 * a movement of the tone.
 */
function fluctuationDb(seconds: Float64Array, partials: readonly Float64Array[], first: number, last: number): number {
  const times = seconds.subarray(first, last + 1);
  const evenly = times.map(() => 1);
  const strays = partials.map((line) => {
    const own = line.subarray(first, last + 1);
    const { intercept, slope } = fitLine(times, own, evenly);
    return own.map((db, i) => db - intercept - slope * times[i]);
  });
  const common = times.map((_, i) => median(strays.map((stray) => stray[i])));
  return median(strays.map((stray) => Math.sqrt(mean(stray.map((db, i) => (db - common[i]) ** 2)))));
}
