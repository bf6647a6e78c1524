import { claimsOf } from '../../test/made/claims';
import { diceOf } from '../../test/made/madeTone';
import { makers } from '../../test/made/tones';
import { MADE_RATE_HZ } from '../../test/made/parts';
import { rowsOf } from '../../test/thorough';
import { readTone } from './read';

/** Nothing was tuned on its numbers. */
const SEED = 77;
const CLAIMABLE = 12;

/** Every third kind. */
const tones = Object.values(makers)
  .filter((_, i) => i % 3 === 0)
  .map((make, i) => () => make(diceOf(1000 * SEED + i)));

it('of tones as people make them 90 % of what is in them is told, and 3 % of what is not', () => {
  let [right, facts, claimed, claimable] = [0, 0, 0, 0];
  // `npm run bench reading` has them all, and what is done to them.
  for (const make of rowsOf(tones, 6)) {
    const { channels, has, facts: own } = make();
    const reading = readTone({
      channels: channels.map((channel) => Float32Array.from(channel)),
      sampleRateHz: MADE_RATE_HZ,
    });
    right += own.filter((fact) => fact.right(reading)).length;
    facts += own.length;
    claimed += [...claimsOf(reading).keys()].filter((feature) => !has.includes(feature)).length;
    claimable += CLAIMABLE;
  }
  expect(right / facts).toBeGreaterThan(0.9);
  expect(claimed / claimable).toBeLessThan(0.03);
});
