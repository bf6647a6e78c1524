import { createRandom } from '../../test/signals';
import { integratedLoudness } from '../dsp/loudness';
import type { Audio } from '../reading/audio';
import { blindPair, chanceOf, verdictOf } from './blindTest';

const RATE_HZ = 44100;

// Upper tails of the binomial with p = 1/2, from Pascal's triangle: sums of coefficients over 2^n.
it.each([
  [8, 8, 1 / 256],
  [7, 8, 9 / 256],
  [6, 8, 37 / 256],
  [12, 16, 2517 / 65536],
  [9, 12, 299 / 4096],
  [10, 10, 1 / 1024],
  [0, 8, 1],
])('%i right of %i happens by chance as the binomial table says', (correct, trials, p) => {
  expect(chanceOf(correct, trials)).toBeCloseTo(p, 12);
});

const answers = (right: number, wrong: number) => [
  ...Array.from({ length: right }, (_, i) => ({ isPatch: i % 2 === 0, saidPatch: i % 2 === 0 })),
  ...Array.from({ length: wrong }, () => ({ isPatch: true, saidPatch: false })),
];

it('says in words what the answers mean', () => {
  expect(verdictOf(answers(8, 0))).toMatchObject({ correct: 8, words: expect.stringContaining('You can tell') });
  expect(verdictOf(answers(7, 1)).words).toContain('probably');
  expect(verdictOf(answers(5, 3)).words).toMatch(/Nothing says.*36 %/);
});

describe('What a blind test plays', () => {
  const random = createRandom(3);
  const toneAt = (gain: number, seconds: number): Audio => ({
    channels: [0, 1].map(() =>
      Float32Array.from(
        { length: seconds * RATE_HZ },
        (_, i) => gain * (Math.sin(0.05 * i) + 0.2 * (random() - 0.5)) * Math.exp(-i / RATE_HZ),
      ),
    ),
    sampleRateHz: RATE_HZ,
  });

  it.each([0.1, 1, 3])('is as loud and as long on both sides, whatever the patch came as (gain %f)', (gain) => {
    const [a, b] = blindPair(toneAt(0.3, 1.5), toneAt(0.3 * gain, 1.7));
    const [x, y] = [a, b].map(({ channels }) => integratedLoudness(channels, RATE_HZ));
    expect(Math.abs(x - y)).toBeLessThan(0.05);
    expect(a.channels[0]).toHaveLength(b.channels[0].length);
    for (const { channels } of [a, b])
      for (const channel of channels) expect(Math.max(...channel.map(Math.abs))).toBeLessThanOrEqual(1);
  });

  it('is as loud where one of them is mono, which is heard from both sides', () => {
    const mono = { ...toneAt(0.3, 1), channels: [toneAt(0.3, 1).channels[0]] };
    const [a, b] = blindPair(mono, toneAt(0.5, 1));
    expect(a.channels).toHaveLength(2);
    const [x, y] = [a, b].map(({ channels }) => integratedLoudness(channels, RATE_HZ));
    expect(Math.abs(x - y)).toBeLessThan(0.05);
  });

  it('starts both at the same sample, and from silence', () => {
    const [a, b] = blindPair(toneAt(0.3, 1), toneAt(0.6, 1));
    const startOf = ({ channels: [left] }: Audio) => left.findIndex((x) => Math.abs(x) > 1e-4);
    expect(Math.abs(startOf(a) - startOf(b))).toBeLessThan(0.001 * RATE_HZ);
    for (const { channels } of [a, b]) expect(channels[0][0]).toBeCloseTo(0, 12);
  });
});
