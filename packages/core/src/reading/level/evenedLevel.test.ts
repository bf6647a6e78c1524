import { phaser, sweeping, voices } from '../../../test/effects';
import { evidenceOf } from '../../../test/made/evidence';
import { createRandom, level, shaped, spreadOf, voicesOf } from '../../../test/made/parts';
import { RELEASE_TAUS } from '../../patch/envelopeCurve';
import { some, thorough } from '../../../test/thorough';

/** Beats of a few voices go as deep as a decay, and fall where they fall by chance. */
some(1).it.each([1, 2])('tells rise, end and release of beating voices, whichever way they beat (%d)', (seed) => {
  const voices = voicesOf({ seconds: 3, hz: 146.8 }, spreadOf(4, 22), createRandom(seed));
  const { note } = evidenceOf(shaped(voices, level({ attack: 0.3, off: 2.4, release: 0.15 })));
  const { attackSeconds, noteOffSeconds, releaseSeconds, sustainDb } = note.fitted;
  expect(note.reading.traits.unison.detuneCents).not.toBeNull();
  expect(attackSeconds).toBeGreaterThan(0.2);
  expect(attackSeconds).toBeLessThan(0.42);
  expect(sustainDb).toBeGreaterThan(-3);
  expect(Math.abs(noteOffSeconds! - 2.4)).toBeLessThan(0.15);
  expect(Math.abs(releaseSeconds! / (0.15 * RELEASE_TAUS) - 1)).toBeLessThan(0.5);
});

thorough.it('tells rise and sustain of a tone that notches go through, as if they did not', () => {
  const shape = level({ attack: 0.05, off: 2.6, release: 0.1 });
  const hollow = (n: number) => (n % 2 === 1 ? 1 : 0.25) / n;
  // The lower of two notches comes down to the first partial, which has most of the power, and goes up again.
  const notched = phaser(voices({ f0Hz: 220, seconds: 3, amplitude: hollow }), sweeping(500, 2000, 0.4), 4);
  const { note } = evidenceOf(notched.map((x, i) => x * shape(i / 44100)));
  expect(note.reading.traits.motion).toMatchObject([{ cause: 'phaser' }]);
  const { attackSeconds, sustainDb } = note.fitted;
  expect(Math.abs(attackSeconds / 0.05 - 1)).toBeLessThan(0.25);
  expect(sustainDb).toBeGreaterThan(-1);
});
