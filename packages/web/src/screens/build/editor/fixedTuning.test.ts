import type { Reading } from '@imprint/core/reading/schema';
import { followingNote, rightFor } from './fixedTuning';

const at = (f0Hz: number | null) => ({ traits: { pitch: { f0Hz } } }) as Reading;

it('says for which key a fixed frequency is right', () => {
  expect(rightFor(110)).toBe('Does not follow the keys: right for A2 only.');
});

it('finds the ratio that sounds the same on the note of the cut', () => {
  expect(followingNote(330, at(110))).toEqual({ tuning: 'ratio', ratio: 3 });
  expect(followingNote(330, at(null))).toEqual({ tuning: 'ratio', ratio: 1 });
  expect(followingNote(16000, at(20))).toEqual({ tuning: 'ratio', ratio: 32 });
});
