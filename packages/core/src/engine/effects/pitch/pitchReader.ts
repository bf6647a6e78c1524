import type { DelayLine } from '../chain/delayLine';

/**
 * Reads a delay line at another speed: two places half a window apart run through it, each heard under half a
 * sine squared, which add up to one; where one begins anew the other is in full (the rotating tape head;
 * Zölzer, DAFX, 2nd edition, 6.4.3).
 */
export class PitchReader {
  private phase = 0;

  clear(): void {
    this.phase = 0;
  }

  /**
   * @param ratio of the pitch that comes out to that which went in
   * @param windowSamples length of the stretch that is read over
   * @param extraSamples further back than that
   */
  read(line: DelayLine, ratio: number, windowSamples: number, extraSamples: number): number {
    this.phase += (1 - ratio) / windowSamples;
    this.phase -= Math.floor(this.phase);
    const other = this.phase < 0.5 ? this.phase + 0.5 : this.phase - 0.5;
    const sine = Math.sin(Math.PI * this.phase);
    const share = sine * sine;
    const from = 2 + extraSamples;
    const first = line.read(from + windowSamples * this.phase);
    return first * share + (1 - share) * line.read(from + windowSamples * other);
  }
}
