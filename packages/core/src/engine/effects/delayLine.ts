import { nextPowerOfTwo } from '../../dsp/fft';

/** A signal's past, to be read at any distance. One sample is written, then any number read, at each step. */
export class DelayLine {
  private readonly samples: Float64Array;
  private readonly mask: number;
  private at = 0;

  /** @param most farthest distance that will be read, in samples */
  constructor(most: number) {
    this.samples = new Float64Array(nextPowerOfTwo(most + 4));
    this.mask = this.samples.length - 1;
  }

  clear(): void {
    this.samples.fill(0);
  }

  write(x: number): void {
    this.at = (this.at + 1) & this.mask;
    this.samples[this.at] = x;
  }

  /** What was written a whole number of samples before the last. */
  whole(samples: number): number {
    return this.samples[(this.at - samples) & this.mask];
  }

  /** What was written a whole number of samples before each of the block that will be written next, which is no longer than that. */
  readBlock(samples: number, out: Float64Array): void {
    const from = this.at + 1 - samples;
    for (let i = 0; i < out.length; i++) out[i] = this.samples[(from + i) & this.mask];
  }

  /** In between by Lagrange's polynomial of third order (Laakso et al. 1996), from 1 sample on; exact at whole distances. */
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

/** Lagrange's polynomial of third order through four samples in a row, at `d` 0..1 of the way from the second to the third. */
export function lagrange(d: number, x0: number, x1: number, x2: number, x3: number): number {
  const c0 = (-d * (d - 1) * (d - 2)) / 6;
  const c1 = ((d + 1) * (d - 1) * (d - 2)) / 2;
  const c2 = (-d * (d + 1) * (d - 2)) / 2;
  const c3 = (d * (d + 1) * (d - 1)) / 6;
  return c0 * x0 + c1 * x1 + c2 * x2 + c3 * x3;
}
