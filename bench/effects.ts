import { type EffectKind, effects as descriptors } from '@imprint/core/parameters/effects/index';
import { BLOCK_SAMPLES } from '../packages/core/src/engine/sources/source';
import type { Effect } from '@imprint/core/patch/schema';
import { CHAIN_RATE_HZ, chainOf, effect } from '../packages/core/test/chains';

const SECONDS = 4;
const ROUNDS = 3;
const SAW_HZ = 110;

/** A full chain as one would build it: colour, levels, movement, space. */
const fullChain = (): Effect[] => [
  effect('equalizer', { bands: Array.from({ length: 8 }, () => ({ kind: 'bell' })) }),
  effect('drive', { driveDb: 12 }),
  effect('compressor'),
  effect('chorus', { mix: 50 }),
  effect('multiband'),
  effect('tremolo'),
  effect('delay', { mix: 30, lowCutHz: 100, highCutHz: 8000 }),
  effect('reverb', { mix: 25 }),
  effect('reducer', { bits: 12 }),
  effect('stereo', { monoBelowHz: 120 }),
  effect('equalizer', { bands: Array.from({ length: 8 }, () => ({ kind: 'bell' })) }),
  effect('limiter', { driveDb: 6 }),
];

/**
 * Prints how much of one core each effect takes, in stereo, as a share of real time, and a chain of twelve.
 */
export function effects(): void {
  for (const kind of Object.keys(descriptors) as EffectKind[]) print(kind, [effect(kind)]);
  print('a chain of 12 effects', fullChain());
}

function print(name: string, chain: Effect[]): void {
  const share = Math.min(...Array.from({ length: ROUNDS }, () => shareOfRealTime(chain)));
  console.log(`${name.padEnd(22)} ${(100 * share).toFixed(1)} % of real time`);
}

function shareOfRealTime(chain: Effect[]): number {
  const blocks = Math.round((SECONDS * CHAIN_RATE_HZ) / BLOCK_SAMPLES);
  const saw = Float64Array.from(
    { length: blocks * BLOCK_SAMPLES },
    (_, i) => (((SAW_HZ * i) / CHAIN_RATE_HZ) % 1) - 0.5,
  );
  const { run } = chainOf(...chain);
  const started = performance.now();
  run(saw);
  return (performance.now() - started) / 1000 / SECONDS;
}
