import type { Filter } from '../../patch/schema';

/** Coefficients that a kind of filter may have at most. */
export const MAX_COEFFICIENTS = 16;

/** Highest cutoff, as a share of the sampling rate. */
const MAX_CUTOFF = 0.49;

/** A filter as the voices read it: the document, and where its moving values stand. */
export interface FilterProgram<F extends Filter = Filter> {
  spec: F;
  /** Index of each parameter's value. */
  slots: Readonly<Record<string, number>>;
}

/** What a filter is tuned to. An object, since numbers that pass between functions are boxed. */
export interface FilterPitch {
  /** After key tracking; not used by a filter without a cutoff. */
  cutoffHz: number;
  sampleRateHz: number;
}

/**
 * One kind of filter, in terms of what one channel has to remember. Coefficients are worked out once a block
 * and run in straight lines through it, so that a moving filter makes no steps; `run` can be given ranges of
 * any length, down to one sample.
 */
interface FilterDefinition<S> {
  createState(sampleRateHz: number): S;
  clear(state: S): void;
  /** Writes the coefficients for the present values. */
  tune(program: FilterProgram, values: Float64Array, pitch: FilterPitch, coefficients: Float64Array): void;
  /**
   * Filters `signal[from..to)` in place.
   *
   * @param at coefficients at the first sample
   * @param step added to each at every sample
   * @param moving false when all steps are zero, which allows a faster way
   */
  run(
    state: S,
    program: FilterProgram,
    signal: Float64Array,
    from: number,
    to: number,
    at: Float64Array,
    step: Float64Array,
    moving: boolean,
  ): void;
}

/** One channel of a filter, with its memory. */
export interface FilterChannel {
  clear(): void;
  run(
    program: FilterProgram,
    signal: Float64Array,
    from: number,
    to: number,
    at: Float64Array,
    step: Float64Array,
    moving: boolean,
  ): void;
}

export interface FilterModel {
  createChannel(sampleRateHz: number): FilterChannel;
  tune: FilterDefinition<unknown>['tune'];
}

export function defineFilter<S>({ createState, clear, tune, run }: FilterDefinition<S>): FilterModel {
  return {
    tune,
    createChannel(sampleRateHz) {
      const state = createState(sampleRateHz);
      return {
        clear: () => clear(state),
        run: (program, signal, from, to, at, step, moving) => run(state, program, signal, from, to, at, step, moving),
      };
    },
  };
}

/** Prewarped gain of trapezoidal integrators; the cutoff is kept under the Nyquist frequency. */
export function integratorGain(cutoffHz: number, sampleRateHz: number): number {
  return Math.tan(Math.PI * Math.min(cutoffHz / sampleRateHz, MAX_CUTOFF));
}
