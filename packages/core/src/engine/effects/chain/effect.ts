import type { HeardEffect } from '../../../patch/edits/audition';
import type { EffectOf } from '../../../patch/words/effects';
import type { Effect } from '../../../patch/schema';
import type { PreparedSample } from '../../program/preparedSample';
import type { PatchResources } from '../../program/resources';

export type { EffectOf };

/** An effect as a chain reads it: the document, where its moving values stand, and what it is timed by. */
export interface EffectProgram<E extends Effect = Effect> {
  spec: E;
  /** Index of each parameter's value. */
  slots: Readonly<Record<string, number>>;
  bpm: number;
  /** Whether only what it adds is let through. */
  onlyAdded?: boolean;
  /** A sample that it plays. */
  sample?: PreparedSample;
}

/** Throws an Error where the sample that it plays was not made ready. */
export function compileEffect(
  spec: HeardEffect,
  slots: EffectProgram['slots'],
  bpm: number,
  { samples }: PatchResources,
): EffectProgram {
  const { onlyAdded } = spec;
  if (!('sampleId' in spec) || spec.sampleId === null) return { spec, slots, bpm, onlyAdded };
  const sample = samples.get(spec.sampleId);
  if (!sample) throw new Error(`Sample "${spec.sampleId}" was not made ready.`);
  return { spec, slots, bpm, onlyAdded, sample };
}

/** What an effect may hear besides what goes through it. */
export interface Surroundings {
  /** Frequency of the note that began last; 0 before the first. */
  noteHz: number;
  /** This block of a layer's voices, both sides, before its chain; undefined while it is silent. */
  layer(id: string): readonly [left: Float64Array, right: Float64Array] | undefined;
}

export const NOTHING_AROUND: Surroundings = { noteHz: 0, layer: () => undefined };

/**
 * What one effect remembers. It runs in blocks of BLOCK_SAMPLES, both channels at once, and allocates nothing
 * meanwhile.
 */
export interface EffectState<E extends Effect = Effect> {
  /** Samples by which what comes out is late. */
  readonly latency: number;
  clear(): void;
  /**
   * Puts a block through, in place: the wet signal alone. The first block after `clear` starts at the present
   * values.
   */
  run(
    program: EffectProgram<E>,
    values: Float64Array,
    left: Float64Array,
    right: Float64Array,
    around: Surroundings,
  ): void;
  /**
   * Samples for which something may be under way inside while nothing is heard; 0 where nothing is stored.
   */
  hiddenSamples(program: EffectProgram<E>, values: Float64Array): number;
  /** What it takes off right now, dB; of those that turn down. */
  reductionDb?(): number;
}

export interface EffectModel<E extends Effect = Effect> {
  /**
   * Whether what it puts out is another sound beside what goes in, not that sound changed: then all of it is
   * what it adds.
   */
  standsApart?: boolean;
  /** Whether it mixes wet and dry itself, since they have to meet at a place inside. */
  mixesItself?: boolean;
  /** Whether it sets its output's level itself, by which the dry signal goes, too. */
  levelsItself?: boolean;
  /**
   * Whether a constant may be left in what it puts out, by curves, by products with something of the same
   * frequency, or by what goes round; the chain takes it away.
   */
  leavesDc?(spec: E): boolean;
  /**
   * How long it goes on once nothing comes in, until what it holds has fallen by 60 dB; besides what the
   * chain holds.
   */
  tailSeconds(effect: E, bpm: number): number;
  create(sampleRateHz: number): EffectState<E>;
}

/** A number that moves in straight lines from block to block, and starts where it is first set. */
export class Ramp {
  value = 0;
  step = 0;
  private fresh = true;

  clear(): void {
    this.fresh = true;
  }

  /** Sets out for a target that is reached after so many samples; `advance` by as many then. */
  to(target: number, samples: number): void {
    if (this.fresh) this.value = target;
    this.fresh = false;
    this.step = (target - this.value) / samples;
  }

  advance(samples: number): void {
    this.value += this.step * samples;
  }

  /** Multiplies both sides of a block by the number on its way to the target, and advances. */
  amplify(left: Float64Array, right: Float64Array): void {
    if (this.value !== 1 || this.step !== 0) {
      for (let i = 0; i < left.length; i++) {
        const gain = this.value + (i + 1) * this.step;
        left[i] *= gain;
        right[i] *= gain;
      }
    }
    this.advance(left.length);
  }
}
