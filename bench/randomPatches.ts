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
    const render = (phrase: typeof notes, seconds: number) =>
      renderPatch({ patch, notes: phrase, sampleRateHz: RATE_HZ, seconds });
    for (const [c, channel] of render(notes, SECONDS).entries()) {
      let fault = faultOf(channel);
      // A tone of a few Hz looks like a constant for half a second: held for longer, it does not.
      if (!fault && Math.abs(mean(channel)) > MAX_DC) {
        const held = render([{ ...notes[0], durationSeconds: LONG_SECONDS }], LONG_SECONDS)[c];
        const constant = windowedMean(held.subarray(2 * RATE_HZ));
        if (constant > MAX_DC) fault = `a constant of ${(20 * Math.log10(constant)).toFixed(1)} dB`;
      }
      if (fault) faults.push({ seed, fault });
    }
  }
  return faults;
}

const LONG_SECONDS = 8;

const mean = (signal: Float32Array) => signal.reduce((sum, x) => sum + x, 0) / signal.length;

/** Mean under a Hann window, which lets tones from 1 Hz up through by less than −60 dB over six seconds. */
function windowedMean(signal: Float32Array): number {
  let sum = 0;
  signal.forEach((x, i) => (sum += x * (1 - Math.cos((2 * Math.PI * (i + 0.5)) / signal.length))));
  return Math.abs(sum / signal.length);
}

function faultOf(channel: Float32Array): string | undefined {
  let peak = 0;
  for (const x of channel) {
    if (!Number.isFinite(x)) return 'a value that is no number';
    peak = Math.max(peak, Math.abs(x));
  }
  return peak > MAX_PEAK ? `a peak of ${(20 * Math.log10(peak)).toFixed(1)} dBFS` : undefined;
}
