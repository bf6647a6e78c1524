/** Runs effects by themselves, for tests. */
import { amplitudeAt, createRandom, decibels } from './signals';
import { createEffectChain } from '../src/engine/effects/chain/effectChain';
import { NOTHING_AROUND, type Surroundings } from '../src/engine/effects/chain/effect';
import { compileSum } from '../src/engine/chains/sumChain';
import { NO_RESOURCES } from '../src/engine/program/resources';
import { BLOCK_SAMPLES } from '../src/engine/sources/source';
import { effectSchema } from '../src/patch/schemas/effectSchema';
import type { Effect } from '../src/patch/schema';

export const CHAIN_RATE_HZ = 48000;

/** An effect with the given fields and the defaults of all others, wholly wet. */
export const effect = (kind: Effect['kind'], fields: object = {}): Effect =>
  effectSchema.parse({ kind, id: 'effect', mix: 100, ...fields });

export const chainOf = (...effects: Effect[]) => chainWithin(NOTHING_AROUND, ...effects);

/** @param around what the effects hear besides; what it tells may change meanwhile */
export function chainWithin(around: Surroundings, ...effects: Effect[]) {
  const chain = createEffectChain(CHAIN_RATE_HZ, effects);
  const context = { bpm: 120, macros: [], routes: [] };
  let program = compileSum(context, effects, NO_RESOURCES);
  const step = (left: Float64Array, right: Float64Array) =>
    chain.run(program.effects, program.values, left, right, around);
  return {
    chain,
    /** Puts one block of both sides through, in place. */
    step,
    /** Changes numbers and switches; kinds and order stay. */
    set: (...changed: Effect[]) => (program = compileSum(context, changed, NO_RESOURCES)),
    /** Puts a signal of any length through, in place, the last block filled up with silence. */
    run(left: Float64Array, right = left.slice()): [Float64Array, Float64Array] {
      const out = [new Float64Array(left.length), new Float64Array(left.length)];
      const block = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
      for (let at = 0; at < left.length; at += BLOCK_SAMPLES) {
        const end = Math.min(left.length, at + BLOCK_SAMPLES);
        [left, right].forEach((signal, c) => {
          block[c].fill(0);
          block[c].set(signal.subarray(at, end));
        });
        step(block[0], block[1]);
        block.forEach((signal, c) => out[c].set(signal.subarray(0, end - at), at));
      }
      return [out[0], out[1]];
    },
  };
}

/** A click of full scale at a place. */
export function click(seconds: number, at = 0): Float64Array {
  const signal = new Float64Array(Math.round(seconds * CHAIN_RATE_HZ));
  signal[at] = 1;
  return signal;
}

export const sineOf = (hz: number, seconds: number, amplitude = 0.5): Float64Array =>
  new Float64Array(Math.round(seconds * CHAIN_RATE_HZ)).map(
    (_, i) => amplitude * Math.sin((2 * Math.PI * hz * i) / CHAIN_RATE_HZ),
  );

/** Gain of a response to a click at a frequency, dB. */
export function responseDb(response: ArrayLike<number>, hz: number): number {
  let re = 0;
  let im = 0;
  for (let i = 0; i < response.length; i++) {
    re += response[i] * Math.cos((2 * Math.PI * hz * i) / CHAIN_RATE_HZ);
    im += response[i] * Math.sin((2 * Math.PI * hz * i) / CHAIN_RATE_HZ);
  }
  return 10 * Math.log10(re * re + im * im);
}

/** White noise between −0.5 and 0.5, always the same. */
export function noiseOf(seconds: number): Float64Array {
  const random = createRandom(9);
  return new Float64Array(Math.round(seconds * CHAIN_RATE_HZ)).map(() => random() - 0.5);
}

/** Level of a partial once everything has settled, dB. */
export const settledDb = (signal: Float64Array, hz: number): number =>
  decibels(amplitudeAt(signal.subarray(CHAIN_RATE_HZ / 2), CHAIN_RATE_HZ, hz));

/** What a layer called "key" plays, as the effects hear it: block by block. */
export function keyOf(signal: Float64Array) {
  let at = 0;
  return {
    noteHz: 0,
    layer(id: string) {
      if (id !== 'key') return undefined;
      const block = new Float64Array(BLOCK_SAMPLES);
      block.set(signal.subarray(at, at + BLOCK_SAMPLES));
      at += BLOCK_SAMPLES;
      return [block, block] as const;
    },
  };
}
