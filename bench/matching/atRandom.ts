/** The search from evidence against the same search from anywhere, with ten times the renders. */
import { soundOf } from '../../packages/core/test/made/evidence';
import { createRandom } from '../../packages/core/test/made/parts';
import { madeTones } from '../../packages/core/test/made/tones';
import { freedomsOfPatch } from '../../packages/core/src/matching/search/freedomsOfPatch';
import { createJudge } from '../../packages/core/src/matching/search/judge';
import { parameterSpace } from '../../packages/core/src/matching/search/parameterSpace';
import { refine } from '../../packages/core/src/matching/search/refine';
import { matchTone } from '@imprint/core/matching/match';

const RENDERS = 250;
const TIMES = 10;
const NAMES = [
  'muted string',
  'filtered saw bass over a sine sub',
  'held vowel',
  'resonant square',
  'metal with a high modulator',
  'square lead with echoes',
];
/** From anywhere to anywhere. */
const STEP = 0.3;

export async function searchedAtRandom(seed: number): Promise<void> {
  let worse = 0;
  for (const { name, channels } of madeTones(seed).filter(({ name }) => NAMES.includes(name))) {
    const audio = soundOf(...channels);
    const { candidates, notes, reading } = await matchTone(audio, { renders: RENDERS, structure: 'plain' });
    const [{ patch }] = candidates;
    const judge = createJudge([{ audio, reading, notes, seed: 1 }], 'half');
    // It is even told what the patch is made of; only the numbers are unknown.
    const freedoms = freedomsOfPatch(patch).map((freedom) => ({ ...freedom, step: STEP }));
    const space = parameterSpace(patch, freedoms);
    const random = createRandom(seed);
    const start = space.at(space.steps.map(() => random()));
    const limits = { maxRenders: TIMES * RENDERS, random, isCancelled: () => false };
    const lost = await refine({ patch: start, distance: await judge.distance(start) }, freedoms, judge, limits);
    const own = await judge.distance(patch);
    if (own > lost.distance) worse++;
    console.log(
      `${name.padEnd(40)} from evidence, ${RENDERS} renders: ${own.toFixed(2)}; at random, ${TIMES * RENDERS}: ${lost.distance.toFixed(2)}`,
    );
  }
  console.log(`worse than at random: ${worse} of ${NAMES.length}`);
}
