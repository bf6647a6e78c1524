import { hzOf, level, mixed, saw, shaped, square, tone } from '../../test/made/parts';
import { soundOf } from '../../test/made/evidence';
import { readTone } from '../reading/read';
import { measureLoneNote } from './loneNote';
import { some, thorough } from '../../test/thorough';

const SECONDS = 1.5;
const plucked = (midi: number, amplitude: typeof saw, loud = 1) =>
  shaped(
    tone({ seconds: SECONDS, hz: hzOf(midi), amplitude, phase: midi / 5 }),
    (t) => loud * level({ decay: 0.5, sustain: 0 })(t),
  );

/** Distances in dB of the first partials from those of a saw. */
const missesOfSaw = (levelsDb: readonly number[]) => levelsDb.slice(0, 16).map((db, i) => db + 20 * Math.log10(i + 1));

describe('The loudest note of a chord', () => {
  some(1).it.each([
    ['minor', [0, 3, 7]],
    ['open', [0, 7, 15]],
    ['with a fourth', [0, 5, 7]],
  ])('%s has its own partials, also where it shares them', (_, steps) => {
    const audio = soundOf(mixed(...steps.map((step) => plucked(52 + step, saw, step === 0 ? 1.5 : 1))));
    const { reading } = measureLoneNote(audio, readTone(audio));
    expect(reading.notes.map(({ midi }) => midi)).toEqual([52]);
    expect(reading.traits.sources.parts.map(({ shape, semitones }) => `${shape} ${semitones}`)).toEqual(['saw 0']);
    for (const miss of missesOfSaw(reading.traits.partials.levelsDb)) expect(Math.abs(miss)).toBeLessThan(3.5);
  });

  thorough.it('lacks partials that only the others have', () => {
    const audio = soundOf(mixed(plucked(48, square, 1.5), plucked(55, square), plucked(63, square)));
    const { levelsDb } = measureLoneNote(audio, readTone(audio)).reading.traits.partials;
    // The second partial of none; the third of the second note is its own fourth and a half.
    expect(levelsDb[1]).toBeLessThan(-25);
    expect(levelsDb[2]).toBeCloseTo(-9.5, 0);
  });
});

it.each([
  [165, 0.93],
  [220, 0.95],
])('does not begin with the end of the note before, at %d Hz', (hz, share) => {
  const step = 0.25;
  const line = shaped(tone({ seconds: 8 * step, hz, amplitude: saw }), (t) => {
    const since = (t + step - 0.05) % step;
    return t < 0.05 ? 0 : Math.max(0, Math.min(1, since / 0.005, (share * step - since) / 0.005));
  });
  const audio = soundOf(line);
  const { fitted } = measureLoneNote(audio, readTone(audio));
  expect(Math.abs(fitted.attackSeconds - 0.005)).toBeLessThan(0.002);
  expect(fitted.noteOffSeconds).toBeNull();
});

thorough.it('is the longest of a line, up to the next', () => {
  const line = new Float64Array(Math.round(2.2 * 44100));
  line.set(plucked(45, saw).subarray(0, 0.5 * 44100));
  line.set(plucked(57, saw).subarray(0, 1.4 * 44100), 0.5 * 44100);
  const audio = soundOf(line);
  const { reading } = measureLoneNote(audio, readTone(audio));
  expect(reading.notes).toHaveLength(1);
  expect(reading.notes[0].midi).toBe(57);
});
