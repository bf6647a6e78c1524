import { nextPowerOfTwo } from '../../../dsp/fft';
import { BLOCK_SAMPLES } from '../../sources/source';

/**
 * A signal's past, to be read at any distance. One sample or block is written, then any number read, at each
 * step.
 */
export class DelayLine {
  /** Blocks of what is read and of what is to be written. */
  readonly out: Float64Array;
  readonly in: Float64Array;
  private readonly samples: Float64Array;
  private readonly mask: number;
  private at = 0;

  /** @param most farthest distance that will be read, in samples */
  constructor(most: number) {
    const size = nextPowerOfTwo(most + 4);
    this.mask = size - 1;
    // The blocks stand behind the past in the same memory, since only within an array pieces are moved at
    // once without making views of them.
    this.samples = new Float64Array(size + 2 * BLOCK_SAMPLES);
    this.out = this.samples.subarray(size, size + BLOCK_SAMPLES);
    this.in = this.samples.subarray(size + BLOCK_SAMPLES);
  }

  clear(): void {
    this.samples.fill(0);
  }

  write(x: number): void {
    this.at = (this.at + 1) & this.mask;
    this.samples[this.at] = x;
  }

  /** Writes `count` samples of `in`, from `from` on. */
  writeBlock(from: number, count: number): void {
    const { samples, mask } = this;
    const source = mask + 1 + BLOCK_SAMPLES + from;
    const first = (this.at + 1) & mask;
    const straight = Math.min(count, mask + 1 - first);
    samples.copyWithin(first, source, source + straight);
    if (straight < count) samples.copyWithin(0, source + straight, source + count);
    this.at = (this.at + count) & mask;
  }

  /**
   * Puts into `out`, from `from` on, what was written a whole number of samples, no fewer than `count`,
   * before each of the `count` that are written next.
   */
  readBlock(distance: number, from: number, count: number): void {
    const { samples, mask } = this;
    const target = mask + 1 + from;
    const first = (this.at + 1 - distance) & mask;
    const straight = Math.min(count, mask + 1 - first);
    samples.copyWithin(target, first, first + straight);
    if (straight < count) samples.copyWithin(target + straight, 0, count - straight);
  }

  /**
   * What was written any number of samples, more than `later` + 1, before the sample that is written `later`
   * samples after the next.
   */
  readAhead(distance: number, later: number): number {
    return this.read(distance - 1 - later);
  }

  /**
   * Copies into `target` the `count` samples from the one that was written `distance` samples before the last
   * on, oldest first.
   */
  copyPast(target: Float64Array, distance: number, count: number): void {
    const { samples, mask, at } = this;
    for (let i = 0; i < count; i++) target[i] = samples[(at - distance + i) & mask];
  }

  /**
   * In between by Lagrange's polynomial of third order (Laakso et al. 1996), from 1 sample on; exact at whole
   * distances.
   */
  read(samples: number): number {
    const whole = Math.floor(samples);
    const d = samples - whole;
    const { mask } = this;
    const i = this.at - whole;
    const x1 = this.samples[i & mask];
    if (d === 0) return x1;
    const x0 = this.samples[(i + 1) & mask];
    const x2 = this.samples[(i - 1) & mask];
    const x3 = this.samples[(i - 2) & mask];
    return lagrange(d, x0, x1, x2, x3);
  }
}

/**
 * Lagrange's polynomial of third order through four samples in a row, at `d` 0..1 of the way from the second
 * to the third.
 */
export function lagrange(d: number, x0: number, x1: number, x2: number, x3: number): number {
  const c0 = (-d * (d - 1) * (d - 2)) / 6;
  const c1 = ((d + 1) * (d - 1) * (d - 2)) / 2;
  const c2 = (-d * (d + 1) * (d - 2)) / 2;
  const c3 = (d * (d + 1) * (d - 1)) / 6;
  return c0 * x0 + c1 * x1 + c2 * x2 + c3 * x3;
}
