import { evidenceOf } from '../../../test/made/evidence';
import { createRandom, level, shaped, spreadOf, voicesOf } from '../../../test/made/parts';
import { RELEASE_TAUS } from '../../patch/envelopeCurve';

/** Beats of a few voices go as deep as a decay, and fall where they fall by chance. */
it.each([1, 2])('tells rise, end and release of beating voices, whichever way they beat (%d)', (seed) => {
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
