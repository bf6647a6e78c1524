import type { Effect } from '../../../patch/schema';
import { modelOf } from '../index';
import { DC_BLOCK_SECONDS } from './ringing';

/** What filters and curves hold for a moment. */
const SHORT_SECONDS = 0.1;
/** No tail is told longer. */
const MOST_SECONDS = 120;

/** How long an effect goes on once nothing comes in: until what it holds has fallen by 60 dB, seconds. */
export function tailSeconds(effect: Effect, bpm: number): number {
  if (!effect.on || effect.mix === 0) return SHORT_SECONDS;
  const model = modelOf(effect.kind);
  const dcBlock = model.leavesDc?.(effect) ? DC_BLOCK_SECONDS : 0;
  return Math.min(MOST_SECONDS, SHORT_SECONDS + model.tailSeconds(effect, bpm) + dcBlock);
}

/** Of a whole chain: its tails one after the other. */
export const chainTailSeconds = (effects: readonly Effect[], bpm: number): number =>
  effects.reduce((sum, effect) => sum + tailSeconds(effect, bpm), 0);
