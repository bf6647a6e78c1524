import { type Amplitude, MADE_RATE_HZ, hzOf, saw, tone } from '../../../test/made/parts';
import type { TrackedNote } from './noteTracking';
import { rootsAbove } from './lineRoot';

const NOTES: readonly TrackedNote[] = [48, 48, 51, 55].map((midi, i) => ({
  midi,
  onsetSeconds: 0.25 * i,
  endSeconds: 0.25 * i + 0.2,
  level: 1,
}));

/** The notes as one sound plays them, `over` semitones from where they are told. */
function rootsOf(amplitude: Amplitude, over = 0): number[] {
  const mono = new Float64Array(1.2 * MADE_RATE_HZ);
  for (const { midi, onsetSeconds, endSeconds } of NOTES) {
    const played = tone({ seconds: endSeconds - onsetSeconds, hz: hzOf(midi + over), amplitude });
    mono.set(played, Math.round(onsetSeconds * MADE_RATE_HZ));
  }
  return rootsAbove(mono, MADE_RATE_HZ, NOTES);
}

/** Stops of an organ, of which the one that the note is named after is the second. */
const stops =
  (levels: Readonly<Record<number, number>>): Amplitude =>
  (n) =>
    levels[n] ?? 0;
const OCTAVES = stops({ 1: 1, 2: 0.9, 4: 0.5, 8: 0.2 });
const MIXTURE = stops({ 1: 0.5, 2: 0.3, 3: 0.03, 4: 1, 6: 0.06, 8: 0.1, 12: 0.1, 16: 0.2 });

it.each([
  ['octaves', OCTAVES],
  ['octaves with a mixture', MIXTURE],
])('notes of an organ that are told at its lower stop are an octave over it: %s', (_, amplitude) => {
  expect(rootsOf(amplitude)).toEqual([12, 12, 12, 12]);
});

it.each<[string, Amplitude, number]>([
  ['an organ that is told at its name', OCTAVES, -12],
  ['a saw', saw, 0],
  ['a bar with its fourth partial', stops({ 1: 1, 4: 0.4, 8: 0.1 }), 0],
  ['a bass with a strong octave', (n) => (n === 2 ? 1 : 0.6 / n), 0],
])('%s stays where it is', (_, amplitude, over) => {
  expect(rootsOf(amplitude, over)).toEqual([0, 0, 0, 0]);
});
