import { times, voices } from '../../../test/effects';
import { some } from '../../../test/thorough';
import { readTone } from '../read';

const LINE_NOTES = 8;
const LEAD_SECONDS = 0.05;

/** A tone whose oscillators run on while notes begin and end, as those of many synthesizers do. */
function line(f0Hz: number, bpm: number, level: (since: number, step: number) => number) {
  const step = 30 / bpm;
  const tone = voices({ f0Hz, seconds: LINE_NOTES * step + 0.5 });
  return notesOf(
    times(tone, (t) => {
      const note = Math.floor((t - LEAD_SECONDS) / step);
      return note < 0 || note >= LINE_NOTES ? 0 : level(t - LEAD_SECONDS - note * step, step);
    }),
  );
}

const notesOf = (signal: ArrayLike<number>) =>
  readTone({ channels: [Float32Array.from(signal)], sampleRateHz: 44100 }).notes;
const plucked = (rate: number) => (since: number) => Math.min(1, since / 0.004) * Math.exp(-rate * since);
const let90 = (since: number, step: number) => Math.max(0, Math.min(1, since / 0.005, (0.9 * step - since) / 0.01));

describe('Eighths of one pitch over oscillators that run on', () => {
  some(2).it.each([
    ['held for nine tenths', 55, 120, let90],
    ['plucked', 165, 120, plucked(9)],
    ['held for nine tenths', 165, 174, let90],
    ['plucked', 55, 90, plucked(9)],
    ['plucked', 440, 174, plucked(14)],
    ['held for nine tenths', 440, 90, let90],
  ] as const)('are eight notes: %s, %d Hz at %d BPM', (_words, f0Hz, bpm, level) => {
    const notes = line(f0Hz, bpm, level);
    expect(notes).toHaveLength(LINE_NOTES);
    notes.forEach(({ onsetSeconds }, i) =>
      expect(Math.abs(onsetSeconds - LEAD_SECONDS - (i * 30) / bpm)).toBeLessThan(0.05),
    );
  });

  it.each([110, 165])('end where they are let go, at %d Hz', (f0Hz) => {
    for (const { durationSeconds } of line(f0Hz, 120, let90).slice(0, -1))
      expect(Math.abs(durationSeconds - 0.9 * 0.25)).toBeLessThan(0.01);
  });

  some(2).it.each([
    ['a deep tremolo', (t: number) => 0.55 + 0.45 * Math.cos(2 * Math.PI * 4 * t)],
    ['one that opens and shuts', (t: number) => ((4 * t) % 1 < 0.5 ? 1 : 0.1)],
    ['ducking', (t: number) => 1 - 0.9 * Math.exp(-6 * ((2 * t) % 1))],
  ])('but a note through %s stays one', (_words, level) => {
    expect(notesOf(times(voices({ f0Hz: 165, seconds: 2.5 }), level))).toHaveLength(1);
  });
});
