import type { LevelContour } from '../level/levelContour';
import { type Decays, isOneFall, releaseAt, roomAt } from './decays';
import type { Room } from './room';

/** Of the level, the least that is the tone's own while it sounds. */
const LEAST_OWN = 0.02;
/** What stops at once is heard to end within so long. */
const LONGEST_STOP_SECONDS = 0.06;
/** Of the room against a tone that is held, as far as it is looked for, dB. */
const SOFTEST_DB = -40;
const LOUDEST_DB = 20;
const STEP_DB = 1;
const FINE_DB = 0.1;
const SILENT = 1e-20;

const isCovered = (decays: Decays, at: number) => roomAt(decays, at) >= releaseAt(decays, at);

export interface Dry {
  level: LevelContour;
  /** A held tone's room against the tone itself, dB. */
  roomDb: number;
}

/**
 * The level of a tone without its room. All that the tone sends out comes back as power that falls evenly, by
 * 60 dB in the time that was told of the room (Polack 1988: reflections add up as noise does); so much of it
 * comes back as makes the room as loud as it is where it is heard by itself. A tone that was held falls as it
 * was seen to once its room is louder; of a pluck, whose fall and room are seen together, no more is taken
 * than that it only falls, and no faster.
 */
export function withoutRoom(level: LevelContour, { rt60Seconds, decays, fromSeconds, isPlucked, alone }: Room): Dry {
  const { rms, hopSeconds } = level;
  const powers = rms.map((x) => x * x);
  const stepAt = (seconds: number) => Math.min(powers.length - 1, Math.round((fromSeconds + seconds) / hopSeconds));
  const letGo = stepAt(0);
  // Once the room is louder than the release nothing more is seen of that.
  let covered = letGo;
  while (covered < powers.length && !isCovered(decays, covered * hopSeconds - fromSeconds)) covered++;
  const [first, last] = [stepAt(alone.fromSeconds), stepAt(alone.toSeconds)];
  const kept = 10 ** ((-6 * hopSeconds) / rt60Seconds);
  // Where the release is the longer of the two, all that dies away is the room's.
  const stopSeconds = Math.min(decays.releaseSeconds, isOneFall(decays) ? LONGEST_STOP_SECONDS : Infinity);
  const fall = 10 ** ((-6 * hopSeconds) / stopSeconds);
  const own = new Float64Array(powers.length);
  /** Writes the tone's own powers; returns how much louder the room is than what is heard of it alone, dB. */
  const part = (roomDb: number): number => {
    const share = 10 ** (roomDb / 10) * (1 - kept);
    let [room, excessDb] = [0, 0];
    for (let i = 0; i < powers.length; i++) {
      const before = own[i - 1] ?? 0;
      room = kept * room + share * before;
      const left = powers[i] - room;
      if (i <= letGo || (!isPlucked && i <= covered)) own[i] = Math.max(LEAST_OWN * powers[i], left);
      else own[i] = isPlucked ? Math.max(before * fall, Math.min(before, left)) : before * fall;
      if (i >= first && i <= last) excessDb += 10 * Math.log10((room + SILENT) / (powers[i] + SILENT));
    }
    return excessDb / (last - first + 1);
  };
  // The softest room that does: a louder one would leave nothing of the tone, and answer to that.
  let roomDb = SOFTEST_DB;
  let excessDb = part(roomDb);
  while (excessDb < 0 && roomDb < LOUDEST_DB) {
    roomDb += Math.min(STEP_DB, Math.max(FINE_DB, -excessDb / 2));
    excessDb = part(roomDb);
  }
  return { level: { ...level, rms: own.map(Math.sqrt) }, roomDb };
}
