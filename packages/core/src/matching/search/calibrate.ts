import type { Patch } from '../../patch/schema';
import type { Judge } from './judge';
import type { Refined } from './refine';
import type { Run } from './run';

/** With fewer renders in all, they are better spent on the search. */
const CALIBRATING_RENDERS = 60;

/** The same where half the rate is set right for it. */
export async function calibrated<T extends Refined>(start: T, run: Run, judge: Judge): Promise<T> {
  const [distance] = await calibratedDistances([start.patch], [start.distance], run, judge);
  return { ...start, distance };
}

/** Of several patches, once half the rate is set right for the nearest of them, if there is time for it. */
export async function calibratedDistances(
  patches: readonly Patch[],
  distances: readonly number[],
  run: Run,
  judge: Judge,
): Promise<readonly number[]> {
  if (judge !== run.judge || run.total() < CALIBRATING_RENDERS || (await run.isOver())) return distances;
  await judge.calibrate(patches[distances.indexOf(Math.min(...distances))]);
  return judge.distances(patches);
}
