import type { Waveform } from '../level/levelContour';

/** Of so many repeats the sides are looked at. */
const LOOKED = 4;
/** How much louder one side is, dB. */
const LEAST_DB = 3;
/** Of the time between two repeats, the part that is the nearest one's by itself. */
const FROM = 0.4;
const TO = 0.95;
/** What is softer is not looked at, against the first repeat, dB. */
const SOFTEST_DB = -40;

/** Powers of the channels of a sound between two times. */
export type PowersBetween = (fromSeconds: number, toSeconds: number) => number[];

/** Whether repeats come from one side and the other by turns. */
export function changesSides(powersBetween: PowersBetween, fromSeconds: number, turnSeconds: number): boolean {
  const repeats = Array.from({ length: LOOKED }, (_, k) => {
    const [left, right = left] = powersBetween(
      fromSeconds + (k + FROM) * turnSeconds,
      fromSeconds + (k + TO) * turnSeconds,
    );
    return { power: left + right, sideDb: 10 * Math.log10((left + 1e-20) / (right + 1e-20)) };
  });
  const heard = repeats.filter(({ power }) => power > repeats[0].power * 10 ** (SOFTEST_DB / 10));
  return (
    heard.length > 1 &&
    heard.every(({ sideDb }, k) => Math.abs(sideDb) > LEAST_DB && (k === 0 || sideDb * heard[k - 1].sideDb < 0))
  );
}

/** Of a waveform, by its clock. */
export const powersOf =
  ({ channels, sampleRateHz, fromSeconds: clock }: Waveform): PowersBetween =>
  (fromSeconds, toSeconds) => {
    const [begins, ends] = [fromSeconds, toSeconds].map((seconds) => Math.round((seconds - clock) * sampleRateHz));
    return channels.map((channel) => {
      let power = 0;
      for (let i = Math.max(0, begins); i < Math.min(channel.length, ends); i++) power += channel[i] ** 2;
      return power;
    });
  };
