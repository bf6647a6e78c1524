import { harmonicTone, saw } from '../../test/signals';
import { readTone } from '../reading/read';
import { everyComparison } from './compared';
import { gapsBetween } from './gaps';
import { adviceFor } from './gapAdvice';
import { some, thorough } from '../../test/thorough';

interface Change {
  f0Hz?: number;
  attack?: number;
  decay?: number;
  tilt?: number;
}

/** A decaying saw-like tone with one thing changed. */
function reading({ f0Hz = 147, attack = 0.01, decay = 0.5, tilt = 1 }: Change = {}) {
  const envelope = (t: number) =>
    t < 0.05 ? 0 : Math.min(1, (t - 0.05) / attack) * 0.05 ** (Math.max(0, t - 0.05 - attack) / decay);
  const sound = harmonicTone({ f0Hz, amplitude: (n) => saw(n) ** tilt, envelope, seconds: 1.2 });
  return readTone({ channels: [sound], sampleRateHz: 44100 });
}

const reference = reading();

it('is nothing between a tone and itself', () => {
  for (const { gapJnd } of gapsBetween(reference, reference)) expect(gapJnd).toBe(0);
});

some(2).describe.each([
  ['pitch', 'pitch', (x: number) => reading({ f0Hz: 147 * 2 ** ((5 * x) / 1200) })],
  ['attack', 'attack', (x: number) => reading({ attack: 0.01 * 2 ** x })],
  ['decay', 'decay', (x: number) => reading({ decay: 0.5 * 1.3 ** x })],
  ['tilt', 'centroid', (x: number) => reading({ tilt: 1 + 0.08 * x })],
] as const)('With a graded change of %s', (_name, trait, changed) => {
  const gaps = [1, 2, 4].map((x) => gapsBetween(reference, changed(x)));
  const gapOf = (i: number) => gaps[i].find((gap) => gap.trait === trait)!.gapJnd;
  it('the gap rises with every step', () => {
    expect(gapOf(0)).toBeGreaterThan(0.3);
    expect(gapOf(1)).toBeGreaterThan(gapOf(0));
    expect(gapOf(2)).toBeGreaterThan(gapOf(1));
  });
});

it('counts five cents of pitch as one JND (Zwicker & Fastl, Psychoacoustics)', () => {
  const traits = gapsBetween(reference, reading({ f0Hz: 147 * 2 ** (5 / 1200) }));
  expect(traits.find(({ trait }) => trait === 'pitch')!.gapJnd).toBeCloseTo(1, 1);
});

thorough.it('says the worst gap in a sentence with both values and what closes it', () => {
  const traits = gapsBetween(reference, reading({ f0Hz: 147 * 2 ** (40 / 1200) }));
  const { sentence, closes } = adviceFor(traits[0]);
  expect(sentence).toBe('The patch is sharp: 147 Hz in the reference, 150 Hz in the patch.');
  expect(closes).toContain('Fine');
});

some(1).it.each([
  [2, 'The patch is an octave too high', 'Move Octaves of the source by −1.'],
  [0.25, 'The patch is 2 octaves too low', 'Move Octaves of the source by +2.'],
  [1.5, 'The patch is sharp', 'Move Semitones and Fine of the source.'],
])('names the octave when the octave is wrong: %d times the frequency', (ratio, said, closes) => {
  const [gap] = gapsBetween(reference, reading({ f0Hz: 147 * ratio })).filter(({ trait }) => trait === 'pitch');
  const advice = adviceFor(gap);
  expect(advice.sentence).toContain(said);
  expect(advice.closes).toBe(closes);
});

it('has advice for all that is compared', () => {
  for (const { trait, group, label, unit } of everyComparison)
    for (const [a, b] of [
      [1, 2],
      [2, 1],
      [null, null],
    ])
      expect(adviceFor({ trait, group, label, unit, reference: a, proof: b, gapJnd: 3 }).closes.length).toBeGreaterThan(
        10,
      );
});
