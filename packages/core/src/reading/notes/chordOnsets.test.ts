import { type Amplitude, hzOf, lengthOf, level, mixed, saw, shaped, square, tone } from '../../../test/made/parts';
import { soundOf } from '../../../test/made/evidence';
import { readTone } from '../read';
import { some } from '../../../test/thorough';

interface Struck {
  midi: number;
  seconds: number;
}

const WHOLE_SECONDS = 1.7;

/** Plucked notes, each struck at a time of its own. */
function pluckedChord(notes: readonly Struck[], amplitude: Amplitude) {
  const struck = notes.map(({ midi, seconds }) => {
    const pluck = tone({ seconds: 1.4, hz: hzOf(midi), amplitude, phase: midi / 7 });
    const out = new Float64Array(lengthOf(WHOLE_SECONDS));
    out.set(shaped(pluck, level({ attack: 0.002, decay: 0.4, sustain: 0 })), lengthOf(seconds));
    return out;
  });
  return soundOf(mixed(...struck));
}

const chordsOf = (root: number, steps: readonly number[], gap: number): Struck[] =>
  steps.map((step, i) => ({ midi: root + step, seconds: 0.11 + i * gap }));

describe('A chord that is strummed', () => {
  some(1).it.each([
    ['an open minor one of saws', chordsOf(49, [0, 7, 15], 0.016), saw],
    ['the same lower, whose common period is nearly a note', chordsOf(45, [0, 7, 15], 0.012), saw],
    ['a major one of squares', chordsOf(53, [0, 4, 7], 0.02), square],
    ['a seventh at once', chordsOf(51, [0, 4, 7, 11], 0), saw],
  ] as const)('%s is told as its notes, each within 8 ms of where it begins', (_, struck, amplitude) => {
    const { notes, traits } = readTone(pluckedChord(struck, amplitude));
    // What stands between the partials of one is the others.
    expect(traits.noise.levelDb).toBeNull();
    expect(notes.map(({ midi }) => midi).sort()).toEqual(struck.map(({ midi }) => midi));
    for (const { midi, seconds } of struck) {
      const { onsetSeconds, durationSeconds } = notes.find((note) => note.midi === midi)!;
      expect(Math.abs(onsetSeconds - seconds)).toBeLessThan(0.008);
      // It dies away by itself: nothing lets go of it.
      expect(onsetSeconds + durationSeconds).toBeGreaterThan(1.4);
    }
  });

  it('is one note where its partials are those of one', () => {
    const { notes } = readTone(pluckedChord(chordsOf(50, [0, 12, 19], 0), saw));
    expect(notes.map(({ midi }) => midi)).toEqual([50]);
  });
});
