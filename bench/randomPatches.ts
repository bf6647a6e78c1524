import { hzFromMidi } from '@imprint/core/dsp/pitch';
import { renderPatch } from '@imprint/core/engine/render';
import type { Patch } from '@imprint/core/patch/schema';
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
      { onsetSeconds: 0, durationSeconds: 0.45, midi: midi(), velocity: 127 },
      { onsetSeconds: 0.02, durationSeconds: 0.4, midi: midi(), velocity: 80 },
    ];
    for (const channel of renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds: SECONDS })) {
      let fault = faultOf(channel);
      const constant = steadyMean(channel);
      // A tone of a few Hz is no constant, but looks like one within a note.
      if (!fault && constant > MAX_DC && !sinksBelowHearing(patch, notes[0].midi)) {
        fault = `a constant of ${(20 * Math.log10(constant)).toFixed(1)} dB`;
      }
      if (fault) faults.push({ seed, fault });
    }
  }
  return faults;
}

/** Mean within the held notes, once what comes with their start is over; under a Hann window, so that tones do not count. */
function steadyMean(signal: Float32Array): number {
  const held = signal.subarray(0.15 * RATE_HZ, 0.42 * RATE_HZ);
  let sum = 0;
  held.forEach((x, i) => (sum += x * (1 - Math.cos((2 * Math.PI * (i + 0.5)) / held.length))));
  return Math.abs(sum / held.length);
}

const LOWEST_HEARD_HZ = 20;

/** Whether a source can be tuned under 20 Hz, by its own settings or by routes. */
function sinksBelowHearing({ layers: [layer] }: Patch, midi: number): boolean {
  return layer.sources.some((source) => {
    if (!('tuning' in source)) return false;
    const moved = layer.routes
      .filter(({ to }) => to.moduleId === source.id && to.parameter === 'semitones')
      .reduce((sum, { amount }) => sum + Math.abs(amount), 0);
    const steps = 12 * source.octaves + source.semitones + source.cents / 100 - moved;
    const hz =
      source.tuning === 'fixed'
        ? source.fixedHz * 2 ** (steps / 12)
        : hzFromMidi(midi + steps) * (source.tuning === 'ratio' ? source.ratio : 1);
    return hz < LOWEST_HEARD_HZ;
  });
}

function faultOf(channel: Float32Array): string | undefined {
  let peak = 0;
  for (const x of channel) {
    if (!Number.isFinite(x)) return 'a value that is no number';
    peak = Math.max(peak, Math.abs(x));
  }
  return peak > MAX_PEAK ? `a peak of ${(20 * Math.log10(peak)).toFixed(1)} dBFS` : undefined;
}
