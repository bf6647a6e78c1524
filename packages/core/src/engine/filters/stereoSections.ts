import { kernel, kernelNumbers } from '../../dsp/kernel/kernel';
import { kernelSides } from '../../dsp/kernel/sides';
import { BLOCK_SAMPLES } from '../sources/source';
import { SECTION } from './stateVariable';

const SECTION_STATE = kernel.STEREO_SECTION_STATE.value;
/** Sections that one call runs at most. */
const MOST_SECTIONS = 8;

const states = kernelNumbers('state', SECTION_STATE * MOST_SECTIONS);
const coefficients = kernelNumbers('coefficients', SECTION * MOST_SECTIONS);
const steps = kernelNumbers('steps', SECTION * MOST_SECTIONS);

/** The sections of `stateVariable.ts` for whole blocks of both sides at once, which takes half the time. */
export const stereoSections = {
  /** States of so many sections; zeros are silence. */
  create: (count: number) => new Float64Array(SECTION_STATE * count),

  /** Takes a block of both sides in, for `run` to work on until `give` gives it back. */
  take(left: Float64Array, right: Float64Array): void {
    kernelSides.left.set(left);
    kernelSides.right.set(right);
  },

  /**
   * Runs `count` sections, at most eight, one after the other.
   * @param at coefficients of the sections, moving by `step` from sample to sample
   */
  run(past: Float64Array, count: number, at: Float64Array, step: Float64Array, moving: boolean): void {
    for (let i = 0; i < SECTION_STATE * count; i++) states[i] = past[i];
    for (let i = 0; i < SECTION * count; i++) coefficients[i] = at[i];
    if (moving) for (let i = 0; i < SECTION * count; i++) steps[i] = step[i];
    kernel.runSections(BLOCK_SAMPLES, count, moving);
    for (let i = 0; i < SECTION_STATE * count; i++) past[i] = states[i];
  },

  give(left: Float64Array, right: Float64Array): void {
    left.set(kernelSides.left);
    right.set(kernelSides.right);
  },
} as const;
