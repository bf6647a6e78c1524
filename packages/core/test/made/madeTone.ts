import type { Fact } from './facts';
import { type Signal, createRandom, peakOf } from './parts';
import type { TrueSetting } from './trueSettings';

/** What a reading can claim of a tone. */
export type Feature =
  | 'vibrato'
  | 'slide'
  | 'voices'
  | 'noise'
  | 'room'
  | 'echo'
  | 'motion'
  | 'dirt'
  | 'fm'
  | 'ring'
  | 'formants'
  | 'stiff';

export interface MadeTone {
  name: string;
  /** One or two channels. */
  channels: Signal[];
  /** What is in it, or can be said of it without being wrong. */
  has: readonly Feature[];
  facts: readonly Fact[];
  /** Numbers of its making that a patch ought to have. */
  settings?: readonly TrueSetting[];
}

export interface Dice {
  random: () => number;
  /** Evenly over the logarithm. */
  between: (low: number, high: number) => number;
  whole: (low: number, high: number) => number;
}

export function diceOf(seed: number): Dice {
  const random = createRandom(seed);
  return {
    random,
    between: (low, high) => low * (high / low) ** random(),
    whole: (low, high) => low + Math.floor((high - low + 1) * random()),
  };
}

export type Maker = (dice: Dice) => Omit<MadeTone, 'name'>;

export const mono = (signal: Signal, has: readonly Feature[], ...facts: Fact[]): Omit<MadeTone, 'name'> => ({
  channels: [scaled(signal, 0.5 / peakOf(signal))],
  has,
  facts,
});

/** The same tone, with what a patch of it ought to have. */
export const withSettings = (made: Omit<MadeTone, 'name'>, ...settings: TrueSetting[]): Omit<MadeTone, 'name'> => ({
  ...made,
  settings,
});

export const scaled = (signal: Signal, gain: number): Signal => signal.map((x) => gain * x);
/** A curve that rounds peaks off. */
export const soft = (x: number) => Math.tanh(x);
