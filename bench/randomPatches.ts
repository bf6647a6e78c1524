import { renderPatch } from '@imprint/core/engine/render';
import { randomPatch } from '../packages/core/test/patches';
import { createRandom } from '../packages/core/test/signals';

const RATE_HZ = 44100;
const SECONDS = 0.5;
/** What a patch may never do. */
const MAX_PEAK = 10 ** (12 / 20);
const MAX_DC = 10 ** (-40 / 20);

/** What was wrong with a patch of the random series. */
export interface RandomPatchFault {
  seed: number;
  fault: string;
}

/** Renders two notes through seeded random patches and looks for NaN, infinity, constants over −40 dB and peaks over +12 dBFS. */
export function checkRandomPatches(firstSeed: number, count: number): RandomPatchFault[] {
  const faults: RandomPatchFault[] = [];
  for (let seed = firstSeed; seed < firstSeed + count; seed++) {
    const random = createRandom(seed);
    const patch = randomPatch(random);
    const midi = () => Math.round(20 + 90 * random());
    const notes = [
      { onsetSeconds: 0, durationSeconds: 0.25, midi: midi(), velocity: 127 },
      { onsetSeconds: 0.1, durationSeconds: 0.2, midi: midi(), velocity: 80 },
    ];
    for (const channel of renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds: SECONDS })) {
      const fault = faultOf(channel);
      if (fault) faults.push({ seed, fault });
    }
  }
  return faults;
}

function faultOf(channel: Float32Array): string | undefined {
  let sum = 0;
  let peak = 0;
  for (const x of channel) {
    if (!Number.isFinite(x)) return 'a value that is no number';
    sum += x;
    peak = Math.max(peak, Math.abs(x));
  }
  if (peak > MAX_PEAK) return `a peak of ${(20 * Math.log10(peak)).toFixed(1)} dBFS`;
  const dc = Math.abs(sum / channel.length);
  return dc > MAX_DC ? `a constant of ${(20 * Math.log10(dc)).toFixed(1)} dB` : undefined;
}
