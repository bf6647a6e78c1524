import { leastSquares } from '../../dsp/leastSquares';

/** A fall and, after a time, a slower one that is softer; levels in dB against the start. */
export interface Decays {
  releaseSeconds: number;
  roomDb: number;
  roomSeconds: number;
  preDelaySeconds: number;
  floorDb: number;
}

export const releaseAt = ({ releaseSeconds }: Decays, at: number) => (-60 * at) / releaseSeconds;
export const roomAt = ({ roomDb, roomSeconds, preDelaySeconds }: Decays, at: number) =>
  roomDb - (60 * Math.max(0, at - preDelaySeconds)) / roomSeconds;
export const levelAt = (decays: Decays, at: number) => levelOver(powerFromDecibels(decays.floorDb), decays, at);

const levelOver = (floor: number, decays: Decays, at: number) =>
  Math.log(powerFromDecibels(releaseAt(decays, at)) + powerFromDecibels(roomAt(decays, at)) + floor) / LOG_OF_DB;
const LOG_OF_DB = Math.LN10 / 10;
const powerFromDecibels = (db: number) => Math.exp(LOG_OF_DB * db);

const AS_LONG = 1.35;

/** Where room and release are as long as one another, all that dies away is the room's. */
export const isOneFall = ({ roomSeconds, releaseSeconds }: Decays) => roomSeconds < AS_LONG * releaseSeconds;

/** Log release, level and log time of the room, pre-delay, floor. */
const MOST_DECAY_STEP = [1, 6, 1, 0.03, 10];

/** Two exponentials and a floor, the second after a pre-delay, by least squares in dB. */
export function fitDecays(seconds: Float64Array, levelsDb: Float64Array): Decays {
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
    const floor = powerFromDecibels(decays.floorDb);
    for (let i = 0; i < out.length; i++) out[i] = bounded(levelsDb[i] - levelOver(floor, decays, seconds[i]));
    return true;
  };
  const differences = (point: Float64Array, left: Float64Array, columns: readonly Float64Array[]) => {
    const decays = decaysOf(point);
    const { roomSeconds, preDelaySeconds } = decays;
    const floor = powerFromDecibels(decays.floorDb);
    const [release, roomDb, roomTime, preDelay, floorDb] = columns;
    for (let i = 0; i < left.length; i++) {
      const releaseFall = releaseAt(decays, seconds[i]);
      const own = powerFromDecibels(releaseFall);
      const room = powerFromDecibels(roomAt(decays, seconds[i]));
      // A decibel more of a part is its share of one of the sum.
      const slope = -boundedSlope(left[i]) / (own + room + floor);
      const behind = Math.max(0, seconds[i] - preDelaySeconds);
      release[i] = slope * own * -releaseFall;
      roomDb[i] = slope * room;
      roomTime[i] = (slope * room * 60 * behind) / roomSeconds;
      preDelay[i] = behind > 0 ? (slope * room * 60 * Math.sign(point[3])) / roomSeconds : 0;
      floorDb[i] = slope * floor;
    }
  };
  const search = { count: seconds.length, differences, mostStep: MOST_DECAY_STEP, mostIterations: 30 };
  const found = [0.4, 1.2, 4].flatMap((room) =>
    [-4, -16].map((roomDb) => leastSquares(residuals, [Math.log(room / 5), roomDb, Math.log(room), 0.01, -75], search)),
  );
  return decaysOf(found.reduce((a, b) => (b.cost < a.cost ? b : a)).point);
}

const ROBUST_DB = 4;

/** What a level is missed by, dB: deep notches of single moments weigh less (Huber 1964). */
export const bounded = (off: number) =>
  Math.abs(off) > ROBUST_DB ? Math.sign(off) * Math.sqrt(2 * ROBUST_DB * Math.abs(off) - ROBUST_DB ** 2) : off;

/** How fast it grows with the miss, where it is `left`. */
const boundedSlope = (left: number) => (Math.abs(left) > ROBUST_DB ? ROBUST_DB / Math.abs(left) : 1);
