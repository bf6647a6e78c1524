/** It lifts, or turns down, by no more than this: 48 dB. */
const MOST_GAIN = 250;
/** What is softer than this is no sound to make up for: mean square. */
const SILENT_POWER = 1e-12;
/**
 * The gain goes towards what it should be by this much in time: fast enough for a note, too slow for its
 * attack.
 */
const GLIDE_SECONDS = 0.02;
/**
 * A part that is softer than the mean by this says nothing about what is lost, but that nothing was asked
 * for.
 */
const PAUSE = 0.01;

/**
 * Makes up for what a filter takes away: a gain by which what comes out is as loud, in the mean, as what goes
 * in. The mean is of all that has been heard since the beginning, and from `meanSeconds` on of that much.
 */
export class MakeUp {
  /** Gain at the start and at the end of the part that was followed last. */
  from = 1;
  to = 1;
  private powerIn = 0;
  private powerOut = 0;
  private heardSeconds = 0;

  /**
   * @param sparesPauses whether the mean leaves out what comes out far softer than the rest, such as pauses
   *   between words
   * @param turnsDown whether what comes out louder than it went in is turned down
   */
  constructor(
    private readonly meanSeconds: number,
    private readonly sparesPauses: boolean,
    private readonly turnsDown: boolean,
  ) {}

  clear(): void {
    this.from = this.to = 1;
    this.powerIn = this.powerOut = this.heardSeconds = 0;
  }

  /**
   * @param powerIn mean square of what goes in
   * @param powerOut mean square of what comes out, before this gain
   * @param seconds length of the part
   */
  follow(powerIn: number, powerOut: number, seconds: number): void {
    this.from = this.to;
    const pauses = this.sparesPauses && powerOut < PAUSE * this.powerOut;
    if (powerIn > SILENT_POWER && !pauses) {
      this.heardSeconds = Math.min(this.meanSeconds, this.heardSeconds + seconds);
      const share = Math.min(1, seconds / this.heardSeconds);
      this.powerIn += share * (powerIn - this.powerIn);
      this.powerOut += share * (powerOut - this.powerOut);
    }
    const lost = this.powerIn > 0 ? Math.sqrt(this.powerIn / Math.max(this.powerOut, SILENT_POWER)) : 1;
    const wanted = Math.max(this.turnsDown ? 1 / MOST_GAIN : 1, Math.min(MOST_GAIN, lost));
    // In decibels: at a note's start, before the filter has answered, what is wanted is far more than what
    // will be.
    this.to = this.from * (wanted / this.from) ** (1 - Math.exp(-seconds / GLIDE_SECONDS));
  }

  /** Multiplies the samples of a part by the gain on its way. */
  apply(signal: Float64Array, from: number, to: number): void {
    const step = (this.to - this.from) / (to - from);
    for (let i = from, gain = this.from + step; i < to; i++, gain += step) signal[i] *= gain;
  }
}

/** Mean square of a part of a signal. */
export function powerOf(signal: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += signal[i] * signal[i];
  return sum / (to - from);
}
