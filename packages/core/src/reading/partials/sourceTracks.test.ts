import { scaled } from '../../../test/made/madeTone';
import { hzOf, level, mixed, shaped, sine, square, tone, triangle, falling, twoPole } from '../../../test/made/parts';
import { measurePartials } from './partialFrames';
import { trackSources } from './sourceTracks';

const HZ = hzOf(52);
const HOP_SECONDS = 0.016;

const tracksOf = (signal: Float64Array) =>
  trackSources(
    measurePartials(signal, 44100, () => HZ, HOP_SECONDS),
    2 / HZ,
    1,
  );

describe('Two plain waveforms', () => {
  const body = tone({ seconds: 1.2, hz: HZ, amplitude: triangle });
  const upper = tone({ seconds: 1.2, hz: 4 * HZ, amplitude: square, phase: 0.21 });

  it('of which one dies away are told, and how', () => {
    const found = tracksOf(
      mixed(
        body,
        shaped(scaled(upper, 0.4), (t) => Math.exp(-t / 0.08)),
      ),
    )!;
    const square4 = found.tracks.find(({ part }) => part.multiple === 4)!;
    expect(square4.part.shape).toBe('square');
    expect(found.errorDb).toBeLessThan(1.5);
    // In e^(-t/τ) by the slope between two frames (definition).
    const [a, b] = [2, 12];
    const seconds = found.seconds[b] - found.seconds[a];
    const tau = -seconds / Math.log(square4.amplitudes[b] / square4.amplitudes[a]);
    expect(tau / 0.08).toBeCloseTo(1, 1);
  });

  it('that both stay, stay', () => {
    for (const { amplitudes } of tracksOf(mixed(body, scaled(upper, 0.4)))!.tracks)
      expect(Math.max(...amplitudes) / Math.min(...amplitudes)).toBeLessThan(1.05);
  });
});

it.each([
  ['a triangle', tone({ seconds: 1.2, hz: HZ, amplitude: triangle })],
  ['a sine that dies', shaped(tone({ seconds: 1.2, hz: HZ, amplitude: sine }), level({ decay: 0.2, sustain: 0 }))],
  ['silence', new Float64Array(44100)],
])('%s is no two', (_, signal) => {
  expect(tracksOf(signal)).toBeUndefined();
});

it('a filter that closes leaves more than waveforms that stand still', () => {
  const low = twoPole(tone({ seconds: 1.2, hz: HZ }), 'low', falling(4000, 300, 0.2), 1);
  const sub = scaled(tone({ seconds: 1.2, hz: HZ, amplitude: sine, phase: 0.3 }), 0.8);
  const found = tracksOf(mixed(low, sub));
  expect(found?.errorDb ?? Infinity).toBeGreaterThan(3);
});
