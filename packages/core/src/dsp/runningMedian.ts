/**
 * Medians of a window that runs over a row of values, by keeping the window sorted. At the ends the window is
 * shorter.
 *
 * @param reach values on either side of the middle
 * @param write called with the place and the median there
 */
export function runningMedian(
  length: number,
  reach: number,
  read: (i: number) => number,
  write: (i: number, median: number) => void,
): void {
  // A value comes in before the oldest goes.
  const window = new Float64Array(2 * reach + 2);
  let count = 0;

  function insert(value: number): void {
    let at = count++;
    for (; at > 0 && window[at - 1] > value; at--) window[at] = window[at - 1];
    window[at] = value;
  }

  function remove(value: number): void {
    let at = 0;
    while (window[at] !== value) at++;
    count--;
    for (; at < count; at++) window[at] = window[at + 1];
  }

  for (let i = 0; i < Math.min(reach, length); i++) insert(read(i));
  for (let i = 0; i < length; i++) {
    if (i + reach < length) insert(read(i + reach));
    if (i - reach - 1 >= 0) remove(read(i - reach - 1));
    const middle = count >> 1;
    write(i, count % 2 ? window[middle] : 0.5 * (window[middle - 1] + window[middle]));
  }
}
