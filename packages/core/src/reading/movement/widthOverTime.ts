import type { Audio } from '../audio';
import { type Series, toSeries } from '../documentParts';

const HOP_SECONDS = 0.01;
const FLOOR_DB = -60;

/** How wide a sound is over time: side against mid, dB, not less than −60; nothing where it is silent. */
export function widthOverTime({ channels: [left, right = left], sampleRateHz }: Audio): Series {
  const hop = Math.round(HOP_SECONDS * sampleRateHz);
  const widths = Array.from({ length: Math.floor(left.length / hop) }, (_, frame) => {
    let [mid, side] = [0, 0];
    for (let i = frame * hop; i < (frame + 1) * hop; i++) {
      mid += (left[i] + right[i]) ** 2;
      side += (left[i] - right[i]) ** 2;
    }
    return mid + side < 1e-8 * hop ? NaN : Math.max(FLOOR_DB, 10 * Math.log10((side + 1e-20) / (mid + 1e-20)));
  });
  return toSeries(HOP_SECONDS, widths);
}
