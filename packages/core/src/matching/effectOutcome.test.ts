import { plainPatch } from '../../test/patches';
import { addEffect } from '../patch/edits/chains';
import { readTone } from '../reading/read';
import { renderPatch } from '../engine/render';
import { effectOutcome } from './effectOutcome';
import { thorough } from '../../test/thorough';

const RATE = 44100;
const SECONDS = 1.5;
const notes = [{ onsetSeconds: 0.05, durationSeconds: 1.2, midi: 57, velocity: 100 }];
const owner = { of: 'patch' } as const;
const patch = plainPatch('saw', { levelDb: -12 });
const reference = readTone({
  channels: renderPatch({ patch, notes, sampleRateHz: RATE, seconds: SECONDS }),
  sampleRateHz: RATE,
});

it('tells the traits that an effect changes, the largest first, without it and with it', () => {
  const bands = Array.from({ length: 8 }, (_, i) => ({ kind: i === 0 ? 'highCut' : 'off', slopeDbPerOctave: 24 }));
  const [dull, id] = addEffect(patch, owner, 'equalizer', { bands, band1Hz: 700 });
  const progress: number[] = [];
  const traits = effectOutcome(dull, owner, id, notes, reference, (share) => progress.push(share));
  const brightness = traits.find(({ trait }) => trait === 'centroid')!;
  expect(brightness.proof!).toBeLessThan(0.6 * brightness.reference!);
  expect(traits.every(({ gapJnd }, i) => gapJnd >= 1 && (i === 0 || gapJnd <= traits[i - 1].gapJnd))).toBe(true);
  expect(traits.some(({ trait }) => trait === 'pitch' || trait === 'attack')).toBe(false);
  expect(progress.at(-1)).toBe(1);
  expect(progress.every((share, i) => i === 0 || share >= progress[i - 1])).toBe(true);
});

thorough.it('tells nothing of an effect that is not heard', () => {
  const [same, id] = addEffect(patch, owner, 'reverb', { mix: 0 });
  expect(effectOutcome(same, owner, id, notes, reference)).toEqual([]);
});
