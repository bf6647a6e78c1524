/** A process of its own for a part of the random chains: `bench chains` keeps one on every core. */
import { dcFaultOfChain, faultOfChain } from '../packages/core/test/randomChains';
import type { Fault } from './randomSeries';

const [firstSeed, count] = process.argv.slice(2).map(Number);
const faults: Fault[] = [];
for (let seed = firstSeed; seed < firstSeed + count; seed++) {
  const fault = faultOfChain(seed) ?? dcFaultOfChain(seed);
  if (fault) faults.push({ seed, fault });
}
process.send!(faults);
