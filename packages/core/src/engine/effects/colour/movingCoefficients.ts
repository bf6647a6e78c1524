import { BLOCK_SAMPLES } from '../../sources/source';

/**
 * Coefficients of filters that move in straight lines from block to block, and start where they are first
 * set.
 */
export class MovingCoefficients {
  readonly now: Float64Array;
  /** To be filled with those at the end of the block. */
  readonly next: Float64Array;
  readonly step: Float64Array;
  moving = false;
  private fresh = true;

  constructor(count: number) {
    this.now = new Float64Array(count);
    this.next = new Float64Array(count);
    this.step = new Float64Array(count);
  }

  clear(): void {
    this.fresh = true;
  }

  /** Sets out for `next`; the first `count` are in use. */
  setOut(count = this.next.length): void {
    if (this.fresh) this.now.set(this.next);
    this.fresh = false;
    this.moving = false;
    for (let c = 0; c < count; c++) {
      this.step[c] = (this.next[c] - this.now[c]) / BLOCK_SAMPLES;
      if (this.step[c] !== 0) this.moving = true;
    }
  }

  arrive(): void {
    if (this.moving) this.now.set(this.next);
  }
}
