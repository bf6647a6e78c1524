import { times, tremolo, voices } from '../../../test/effects';
import { strikeAt, tonalChange } from './strike';

const RATE_HZ = 44100;
const AT = 0.5;

/** A saw that is struck again at a time, with a dip and phases of its own. */
function struckAgain(f0Hz: number, dip: number): Float64Array {
  const [first, second] = [1, 2].map((seed) => voices({ f0Hz, seconds: 1, seed }));
  return first.map((x, i) => {
    const t = i / RATE_HZ;
    const gain = 1 - dip * Math.max(0, 1 - Math.abs(t - AT) / 0.01);
    return gain * (t < AT ? x : second[i]);
  });
}

describe.each([55, 220])('At %d Hz', (f0Hz) => {
  it('a note that is struck again begins with other phases, though it dips by a few dB only', () => {
    const { coherence } = strikeAt(struckAgain(f0Hz, 0.3), RATE_HZ, f0Hz, AT);
    expect(coherence).toBeLessThan(0.6);
  });

  it.each<[string, (t: number) => number]>([
    ['a held note', () => 1],
    ['a tremolo', tremolo(6, 12)],
    ['a ducked note', (t) => 0.25 + 0.75 * Math.min(1, ((t + 0.01) % 0.5) / 0.2)],
  ])('%s keeps its phases', (_, envelope) => {
    const { coherence } = strikeAt(times(voices({ f0Hz, seconds: 1 }), envelope), RATE_HZ, f0Hz, AT);
    expect(coherence).toBeGreaterThan(0.9);
  });

  it('knows the pitch a few cents off', () => {
    const { coherence } = strikeAt(voices({ f0Hz, seconds: 1 }), RATE_HZ, f0Hz * 2 ** (6 / 1200), AT);
    expect(coherence).toBeGreaterThan(0.9);
  });

  it('a hit beside a note adds nothing to its partials', () => {
    const note = voices({ f0Hz, seconds: 1 });
    const hit = note.map((x, i) => {
      const t = i / RATE_HZ - AT;
      return x + (t > 0 ? 0.3 * Math.sin(7919 * i * i) * Math.exp(-t / 0.03) : 0);
    });
    expect(Math.abs(tonalChange(hit, RATE_HZ, f0Hz, AT).riseDb)).toBeLessThan(3);
  });
});
