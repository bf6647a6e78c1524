import { centsBetween } from '../../dsp/pitch';
import { falling, lengthOf, square, tone, twoPole } from '../../../test/made/parts';
import { followPitch } from './followedPitch';
import { trackPitch } from './pitchTrack';

const RATE_HZ = 44100;
/** Clear of both ends, where frames of the track are not whole. */
const TIMES = Array.from({ length: 40 }, (_, i) => 0.05 + 0.01 * i);

describe('the pitch that partials are followed at', () => {
  it.each([
    [55, 3200, 500, 8],
    [65.4, 2400, 400, 6],
    [82.4, 4000, 600, 10],
  ])('of a square at %f Hz stands still while a resonance falls from %f Hz to %f Hz at Q %f', (hz, from, to, q) => {
    const open = tone({ seconds: 1, hz, amplitude: square });
    const signal = twoPole(open, 'low', falling(from, to, 0.15), q);
    const track = trackPitch(signal, RATE_HZ);
    const farthest = (pitchAt: (i: number) => number) =>
      Math.max(...TIMES.map((at) => Math.abs(centsBetween(hz, pitchAt(at)))));
    const nearest = (at: number) => track.f0Hz.find((_, i) => track.seconds[i] >= at)!;

    expect(farthest(followPitch(signal, RATE_HZ, track, hz))).toBe(0);
    // Periods alone would have it move.
    expect(farthest(nearest)).toBeGreaterThan(6);
  });

  it('follows a vibrato as well as the track does, which blurs it, or as what is finer', () => {
    const cents = (seconds: number) => 40 * Math.sin(2 * Math.PI * 5 * seconds);
    const exact = (seconds: number) => 220 * 2 ** (cents(seconds) / 1200);
    const signal = tone({ seconds: 1, hz: 220, semitones: (at) => cents(at) / 100 });
    const track = trackPitch(signal, RATE_HZ);
    const farthest = (pitchAt: (seconds: number) => number) =>
      Math.max(...TIMES.map((at) => Math.abs(centsBetween(exact(at), pitchAt(at)))));
    expect(farthest(followPitch(signal, RATE_HZ, track, 220))).toBeLessThan(25);
    // What is so little away from the fundamental is taken for it.
    expect(farthest(followPitch(signal, RATE_HZ, track, 220, exact))).toBeLessThan(12);
    expect(farthest(() => 220)).toBeGreaterThan(38);
  });

  it('stays at the fundamental where the track has nothing', () => {
    const silent = new Float64Array(lengthOf(0.5));
    expect(followPitch(silent, RATE_HZ, trackPitch(silent, RATE_HZ), 110)(0.2)).toBe(110);
  });
});
