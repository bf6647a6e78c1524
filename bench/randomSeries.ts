import { fork } from 'node:child_process';
import { once } from 'node:events';
import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';

/** What was wrong with one of a random series. */
export interface Fault {
  seed: number;
  fault: string;
}

const COUNT = Number(process.env.RANDOM_COUNT ?? 10_000);
const A_CHILD = 50;

/**
 * Has the seeds from 1 to RANDOM_COUNT, or 10,000, checked: every core takes the next few until all are done.
 * A child sends the faults of those that it was given.
 */
export async function checkSeries(what: string, childFile: string): Promise<void> {
  const faults: Fault[] = [];
  let next = 1;
  const work = async () => {
    while (next <= COUNT) {
      const first = next;
      next += A_CHILD;
      const child = fork(fileURLToPath(new URL(childFile, import.meta.url)), [String(first), String(A_CHILD)]);
      const [found] = (await once(child, 'message')) as [Fault[]];
      faults.push(...found);
      for (const { seed, fault } of found) console.log(`${what} ${seed}: ${fault}`);
      console.error(`${what} ${first} to ${first + A_CHILD - 1} are done`);
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, work));
  console.log(`${COUNT} random ${what}: ${faults.length} faults`);
}
