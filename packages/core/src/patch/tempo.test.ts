import { emptyPatch } from './defaults';
import { atTrackTempo } from './tempo';

it('a patch follows the tempo of its track, rounded to hundredths', () => {
  expect(atTrackTempo(emptyPatch(), 95.9987).bpm).toBe(96);
  expect(atTrackTempo({ ...emptyPatch(), bpm: 96 }, 97.123).bpm).toBe(97.12);
});

it('stays as it is where the track has none, or its own was set by hand', () => {
  const patch = emptyPatch();
  expect(atTrackTempo(patch, null)).toBe(patch);
  const own = { ...patch, tempoFrom: 'hand' as const, bpm: 140 };
  expect(atTrackTempo(own, 96)).toBe(own);
});

it('keeps to what a patch can have', () => {
  expect(atTrackTempo(emptyPatch(), 480).bpm).toBe(300);
});
