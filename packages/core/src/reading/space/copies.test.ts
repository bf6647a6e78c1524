import { times, voices, withEchoes, withRoom } from '../../../test/effects';
import { copiesOf } from './copies';
import { edgesOf } from './edges';

const RATE_HZ = 44100;
const HELD_SECONDS = 1.2;
/** Two alone would be like themselves once they have beaten. */
const VOICES = [-21, 4, 17];

const letGo = (signal: Float64Array, releaseSeconds = 0.08) =>
  times(signal, (t) => (t < HELD_SECONDS ? 1 : 10 ** ((-3 * (t - HELD_SECONDS)) / releaseSeconds)));
const three = (f0Hz: number) => letGo(voices({ f0Hz, seconds: 3, cents: VOICES }));
const edges = (signal: Float64Array, f0Hz: number) =>
  edgesOf({ channels: [signal], sampleRateHz: RATE_HZ, periodSeconds: 1 / f0Hz, fromSeconds: 0 });
const copies = (signal: Float64Array, f0Hz: number) => copiesOf(edges(signal, f0Hz), [HELD_SECONDS], 3);

describe('What is heard again', () => {
  it.each([
    [98, 0.31, 0.3],
    [220, 0.183, 0.15],
    [440, 0.4271, 0.5],
  ])('of three voices at %d Hz, %d s later: the time within 1 ms', (f0Hz, seconds, level) => {
    const found = copies(withEchoes(three(f0Hz), seconds, level, 0.2), f0Hz);
    const offs = found.map((copy) => Math.abs(copy.seconds - seconds));
    expect(Math.min(...offs)).toBeLessThan(0.001);
  });

  it.each([
    ['a release', (f0Hz: number) => letGo(voices({ f0Hz, seconds: 3, cents: VOICES }), 0.8)],
    ['a room', (f0Hz: number) => withRoom(three(f0Hz), { rt60Seconds: 1.2, wetDb: -10 })],
  ])('nothing of %s', (_, make) => {
    for (const f0Hz of [110, 330]) expect(copies(make(f0Hz), f0Hz)).toEqual([]);
  });
});
