import { NO_ISOLATION } from '@imprint/core/reading/isolation/settings';
import { kept, parseKeep } from './keep';
import { thorough } from '../../core/test/thorough';

it('takes any of the parts of an isolation', () => {
  expect(parseKeep('band=40-1200,place=mid,kind=tonal,partials,sub,hits')).toEqual({
    band: { fromHz: 40, toHz: 1200 },
    place: { kind: 'mid' },
    character: 'tonal',
    partialsOnly: true,
    withSub: true,
    hitsDown: true,
  });
  expect(parseKeep('place=-50..20')).toEqual({ ...NO_ISOLATION, place: { kind: 'range', fromPan: -50, toPan: 20 } });
  expect(parseKeep('kind=percussive')).toEqual({ ...NO_ISOLATION, character: 'percussive' });
});

it.each(['bnad=40-1200', 'band=low', 'band=1200-40', 'place=above', 'kind=loud', ''])(
  'says what would be right for “%s”',
  (spec) => {
    expect(() => parseKeep(spec)).toThrow(/--keep .*band=40-1200/);
  },
);

thorough.it('leaves out what lies outside the band', () => {
  const rate = 44100;
  const tone = (hz: number) => (_: unknown, i: number) => 0.3 * Math.sin((2 * Math.PI * hz * i) / rate);
  const [low, high] = [110, 3520].map((hz) => Float32Array.from({ length: rate }, tone(hz)));
  const both = { channels: [low.map((x, i) => x + high[i])], sampleRateHz: rate };
  const { audio, surroundings } = kept(both, 'band=40-1200');
  const [channel] = audio.channels;
  expect(
    Math.max(...surroundings!.channels[0].map((x, i) => Math.abs(both.channels[0][i] - channel[i] - x))),
  ).toBeLessThan(1e-6);
  const power = (signal: Float32Array) => signal.reduce((sum, x) => sum + x * x, 0) / signal.length;
  const leftOver = power(channel.map((x, i) => x - low[i]));
  expect(10 * Math.log10(leftOver / power(high))).toBeLessThan(-20);
  expect(kept(both, undefined)).toEqual({ audio: both });
});

describe('What is suggested', () => {
  const rate = 44100;
  const saw = Float32Array.from({ length: 1.5 * rate }, (_, i) => {
    let sum = 0;
    for (let n = 1; n <= 30; n++) sum += Math.sin((2 * Math.PI * 220 * n * i) / rate) / n;
    return 0.2 * sum;
  });
  const hits = saw.map((_, i) => {
    const since = (i / rate) % 0.3;
    return since < 0.1 ? 0.5 * Math.sin(12.9898 * i * i) * Math.exp(-since / 0.02) : 0;
  });

  it('is nothing for a tone that is alone', () => {
    expect(kept({ channels: [saw], sampleRateHz: rate }, 'suggested').surroundings).toBeUndefined();
  });

  thorough.it('takes hits down', () => {
    const { audio, surroundings } = kept(
      { channels: [saw.map((x, i) => x + hits[i])], sampleRateHz: rate },
      'suggested',
    );
    const power = (signal: Float32Array) => signal.reduce((sum, x) => sum + x * x, 0);
    const left = power(audio.channels[0].map((x, i) => x - saw[i]));
    expect(10 * Math.log10(left / power(hits))).toBeLessThan(-5);
    expect(power(surroundings!.channels[0])).toBeGreaterThan(0.3 * power(hits));
  });
});
