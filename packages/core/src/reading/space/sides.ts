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

/** Whether repeats come from one side and the other by turns. */
export function changesSides(
  { channels, sampleRateHz, fromSeconds: clock }: Waveform,
  fromSeconds: number,
  turnSeconds: number,
): boolean {
  if (channels.length < 2) return false;
  const [left, right] = channels;
  const repeats = Array.from({ length: LOOKED }, (_, k) => {
    const begins = Math.round((fromSeconds + (k + FROM) * turnSeconds - clock) * sampleRateHz);
    const ends = Math.min(left.length, Math.round((fromSeconds + (k + TO) * turnSeconds - clock) * sampleRateHz));
    let [l, r] = [0, 0];
    for (let i = Math.max(0, begins); i < ends; i++) {
      l += left[i] ** 2;
      r += right[i] ** 2;
    }
    return { power: l + r, sideDb: 10 * Math.log10((l + 1e-20) / (r + 1e-20)) };
  });
  const heard = repeats.filter(({ power }) => power > repeats[0].power * 10 ** (SOFTEST_DB / 10));
  return (
    heard.length > 1 &&
    heard.every(({ sideDb }, k) => Math.abs(sideDb) > LEAST_DB && (k === 0 || sideDb * heard[k - 1].sideDb < 0))
  );
}
