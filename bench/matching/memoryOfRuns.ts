import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';
import { soundOf } from '../../packages/core/test/made/evidence';
import { madeTones } from '../../packages/core/test/made/tones';
import { matchTone } from '@imprint/core/matching/match';

const RUNS = 100;
const RENDERS = 20;

/** What is left in memory after runs of the match on different tones. */
export async function memoryOfRuns(seed: number): Promise<void> {
  setFlagsFromString('--expose-gc');
  const collect = runInNewContext('gc') as () => void;
  const tones = madeTones(seed).filter(({ channels }) => channels[0].length < 60_000);
  const heldMb = () => {
    collect();
    const { heapUsed, external, arrayBuffers } = process.memoryUsage();
    return ((heapUsed + external + arrayBuffers) / 1e6).toFixed(0);
  };
  const held: string[] = [];
  for (let run = 1; run <= RUNS; run++) {
    await matchTone(soundOf(...tones[run % tones.length].channels), { renders: RENDERS, structure: 'plain' });
    if (run % 20 === 0) held.push(`${heldMb()} MB after ${run}`);
  }
  console.log(`held by ${RUNS} runs: ${held.join(', ')}`);
}
