import { evidenceOf } from '../../../test/made/evidence';
import { level, saw, shaped, spreadOf, square, tone, twoPole, voicesOf } from '../../../test/made/parts';
import { createRandom } from '../../../test/signals';
import { patchMadeOf } from './made';
import { structuresOf } from './structures';
import { explainSync } from './sync';
import { some, thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const F0_HZ = 65.41;
const OVER = 8;

/** A saw that begins anew with every period of the note, at a ratio to it: means of eight points a sample. */
function synced(ratioAt: (seconds: number) => number, seconds = 1.4): Float64Array {
  let phase = 0;
  let own = 0;
  return Float64Array.from({ length: seconds * RATE_HZ }, (_, i) => {
    let sum = 0;
    for (let k = 0; k < OVER; k++) {
      phase += F0_HZ / RATE_HZ / OVER;
      own += (F0_HZ * ratioAt(i / RATE_HZ)) / RATE_HZ / OVER;
      if (phase >= 1) own = (phase -= 1) * ratioAt(i / RATE_HZ);
      sum += 2 * (own - Math.floor(own)) - 1;
    }
    return sum / OVER;
  });
}

const held = level({ off: 1.2 });
const toldOf = (signal: Float64Array) => explainSync(evidenceOf(shaped(signal, held)));

describe('A saw that is synced to the note', () => {
  some(1).it.each([
    [3, 0.3],
    [5, 0.15],
  ])('is told by its partials as its pitch falls from %d times the note within a time constant of %d s', (top, tau) => {
    const evidence = evidenceOf(
      shaped(
        synced((t) => 1 + (top - 1) * Math.exp(-t / tau)),
        held,
      ),
    );
    const [{ sources, modulators, routes }] = patchMadeOf(explainSync(evidence)).layers;
    const [source] = sources;
    if (source.kind !== 'shape') throw new Error('A synced saw is a waveform.');
    expect(source).toMatchObject({ shape: 'saw', phaseShape: 'hardSync' });
    expect(source.syncSemitones).toBeLessThan(2.5);
    const [route] = routes;
    expect(route.to).toEqual({ moduleId: source.id, parameter: 'syncSemitones' });
    // Frames of four periods blur the highest moment.
    const start = source.syncSemitones + route.amount;
    // A ratio that falls exponentially does not do so in semitones.
    expect(start).toBeLessThan(12 * Math.log2(top) + 2.5);
    expect(start).toBeGreaterThan(12 * Math.log2(top) - 4);
    expect(modulators.find(({ id }) => id === route.from)?.kind).toBe('envelope');
    expect(structuresOf(evidence).map(({ name }) => name)).toContain('a synced saw');
  });

  thorough.it('is told with the low-pass behind it', () => {
    const way = (t: number) => 1.3 + 3 * Math.exp(-t / 0.4);
    const [{ filters }] = patchMadeOf(toldOf(twoPole(synced(way), 'low', () => 3000, 0.7))).layers;
    expect(filters[0]).toMatchObject({ kind: 'lowpass', on: true });
    expect('cutoffHz' in filters[0] && Math.abs(Math.log2(filters[0].cutoffHz / 3000))).toBeLessThan(1 / 3);
    expect(toldOf(synced(way))).toHaveLength(1);
  });

  thorough.it('is told where it stands', () => {
    const [hypothesis] = toldOf(synced(() => 2.6));
    const [{ sources, routes }] = patchMadeOf([hypothesis]).layers;
    expect(sources[0].kind === 'shape' && sources[0].syncSemitones).toBeCloseTo(12 * Math.log2(2.6), 0);
    expect(routes).toEqual([]);
  });

  some(1).it.each<[string, Float64Array]>([
    ['a saw', tone({ seconds: 1.4, hz: F0_HZ, amplitude: saw })],
    ['a square', tone({ seconds: 1.4, hz: F0_HZ, amplitude: square })],
    [
      'a saw behind a closing filter',
      tone({
        seconds: 1.4,
        hz: F0_HZ,
        amplitude: (n, t) => saw(n, t) / Math.hypot(1, n / (2 + 20 * Math.exp(-t / 0.2))),
      }),
    ],
    ['voices that beat', voicesOf({ seconds: 1.4, hz: 3 * F0_HZ }, spreadOf(5, 24), createRandom(3))],
  ])('is not told of %s', (_, signal) => {
    expect(toldOf(signal)).toEqual([]);
  });
});
