import { hzFromMidi } from '@imprint/core/dsp/pitch';
import { renderPatch } from '@imprint/core/engine/render';
import type { Patch } from '@imprint/core/patch/schema';
import { randomPatch } from '../packages/core/test/patches';
import type { Fault } from './randomSeries';
import { createRandom } from '../packages/core/test/signals';

const RATE_HZ = 44100;
/** What a patch may never do. */
const MAX_PEAK = 10 ** (12 / 20);
const MAX_DC = 10 ** (-60 / 20);

/**
 * Renders two notes through seeded random patches and looks for NaN, infinity, constants over −60 dBFS and
 * peaks over +12 dBFS. What looks like a constant in half a second may be a movement of the patch, such as a
 * contour's last point; it has to stay for three.
 */
export function checkRandomPatches(firstSeed: number, count: number): Fault[] {
  const faults: Fault[] = [];
  for (let seed = firstSeed; seed < firstSeed + count; seed++) {
    const short = renderNotes(seed, SHORT);
    const leans = () => constantOf(short, SHORT) > MAX_DC && constantOf(renderNotes(seed, LONG), LONG) > MAX_DC;
    const fault =
      short.channels.map(faultOf).find((found) => found !== undefined) ??
      // A tone of a few Hz is no constant, but looks like one within a note.
      (!sinksBelowHearing(short.patch, short.midi) && leans() ? 'a constant over -60 dBFS' : undefined);
    if (fault) faults.push({ seed, fault });
  }
  return faults;
}

/**
 * How long the first note is held, and between which times a constant is looked for: once what comes with the
 * start is over.
 */
interface Span {
  heldSeconds: number;
  fromSeconds: number;
  toSeconds: number;
}

const SHORT: Span = { heldSeconds: 0.45, fromSeconds: 0.15, toSeconds: 0.42 };
const LONG: Span = { heldSeconds: 3, fromSeconds: 1, toSeconds: 2.9 };

function renderNotes(seed: number, { heldSeconds }: Span) {
  const random = createRandom(seed);
  const patch = randomPatch(random);
  const midi = () => Math.round(20 + 90 * random());
  const notes = [
    { onsetSeconds: 0, durationSeconds: heldSeconds, midi: midi(), velocity: 127 },
    { onsetSeconds: 0.02, durationSeconds: heldSeconds - 0.05, midi: midi(), velocity: 80 },
  ];
  const channels = renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds: heldSeconds + 0.05 });
  return { patch, midi: notes[0].midi, channels };
}

/** Largest mean of both channels within a span, under a Hann window, so that tones do not count. */
function constantOf({ channels }: ReturnType<typeof renderNotes>, { fromSeconds, toSeconds }: Span): number {
  const means = channels.map((channel) => {
    const held = channel.subarray(fromSeconds * RATE_HZ, toSeconds * RATE_HZ);
    let sum = 0;
    held.forEach((x, i) => (sum += x * (1 - Math.cos((2 * Math.PI * (i + 0.5)) / held.length))));
    return Math.abs(sum / held.length);
  });
  return Math.max(...means);
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
