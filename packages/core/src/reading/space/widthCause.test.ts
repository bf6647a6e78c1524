import { times, voices, withDelay, withRoom } from '../../../test/effects';
import { readTone } from '../read';
import { thorough } from '../../../test/thorough';

const RATE_HZ = 44100;
const SECONDS = 2.4;

const held = (t: number) => Math.min(1, t / 0.01) * (t < 1.4 ? 1 : 10 ** ((-3 * (t - 1.4)) / 0.1));
const tone = (f0Hz: number, cents?: number[], seed?: number) =>
  times(voices({ f0Hz, seconds: SECONDS, cents, seed }), held);
const late = (signal: Float64Array, seconds: number) => {
  const both = withDelay(signal, () => seconds, 1);
  return both.map((x, i) => x - signal[i]);
};
const room = (signal: Float64Array, seed: number, wetDb: number) => withRoom(signal, { rt60Seconds: 1.2, wetDb, seed });

function widthOf(left: Float64Array, right: Float64Array) {
  const channels = [left, right].map((channel) => Float32Array.from(channel));
  return readTone({ channels, sampleRateHz: RATE_HZ }).traits.width;
}

describe('What makes a saw wide', () => {
  const f0Hz = 130.8;
  const dry = tone(f0Hz);

  it('nothing, where both channels are the same', () => {
    expect(widthOf(dry, dry)).toMatchObject({ cause: null, delaySeconds: null });
  });

  it('panning', () => {
    const width = widthOf(
      dry.map((x) => 0.9 * x),
      dry.map((x) => 0.35 * x),
    );
    expect(width).toMatchObject({ cause: 'panning', delaySeconds: null });
  });

  thorough.it.each([0.012, 0.0015])('a delay of %d s, with its time', (seconds) => {
    const width = widthOf(dry, late(dry, seconds));
    expect(width.cause).toBe('delay');
    expect(Math.abs(width.delaySeconds! - seconds)).toBeLessThan(0.0001);
  });

  thorough.it('detuned voices, spread to both sides', () => {
    expect(widthOf(tone(f0Hz, [-8, 0], 1), tone(f0Hz, [0, 8], 2)).cause).toBe('detune');
    expect(widthOf(tone(f0Hz, [-14, -3, 6], 1), tone(f0Hz, [-6, 4, 13], 2)).cause).toBe('detune');
  });

  thorough.it.each([-6, -12])('a room of %d dB', (wetDb) => {
    expect(widthOf(room(dry, 5, wetDb), room(dry, 9, wetDb)).cause).toBe('reverb');
  });
});
