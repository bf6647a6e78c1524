import { renderPiece } from '../../../test/pieces';
import { sectionSteps } from './sections';
import { finish } from '../steps';
import { thorough } from '../../../test/thorough';

const RATE_HZ = 22050;
const SECONDS = 20;
const minor = [0, 2, 3, 5, 7, 8, 10];
const major = [0, 2, 4, 5, 7, 9, 11];

const part = (tonic: number, scale: number[], seed: number) =>
  renderPiece({ bpm: 120, tonic, scale, seed, seconds: SECONDS, sampleRateHz: RATE_HZ });

function sectionsOf(...parts: Float32Array[]) {
  const whole = new Float64Array(parts.reduce((sum, { length }) => sum + length, 0));
  parts.forEach((samples, i) => whole.set(samples, i * SECONDS * RATE_HZ));
  return finish(sectionSteps(whole, RATE_HZ));
}

describe('Sections of a piece', () => {
  thorough.it.each([1, 3])('end where another key begins, and each has its key (seed %i)', (seed) => {
    const sections = sectionsOf(part(9, minor, seed), part(2, major, seed + 5), part(9, minor, seed));
    expect(sections.map(({ letter }) => letter)).toEqual(['A', 'B', 'A']);
    [SECONDS, 2 * SECONDS].forEach((edge, i) => {
      expect(Math.abs(sections[i].toSeconds - edge)).toBeLessThanOrEqual(1);
      expect(sections[i + 1].fromSeconds).toBe(sections[i].toSeconds);
    });
    expect(sections.map(({ keys }) => `${keys[0].tonic} ${keys[0].mode}`)).toEqual(['A minor', 'D major', 'A minor']);
    for (const { keys } of sections) expect(keys).toHaveLength(3);
  });

  thorough.it('are one where a piece goes on with other chords', () => {
    expect(sectionsOf(part(4, minor, 2), part(4, minor, 2))).toHaveLength(1);
  });

  it('of silence and of what is short are one, without a key', () => {
    const [only, ...others] = finish(sectionSteps(new Float64Array(2 * RATE_HZ), RATE_HZ));
    expect(others).toEqual([]);
    expect(only).toEqual({ fromSeconds: 0, toSeconds: 2, letter: 'A', keys: [] });
  });
});
