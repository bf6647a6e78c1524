import { createRandom, harmonicTone, saw } from '../../../test/signals';
import { integratedLoudness } from '../../dsp/loudness';
import { hear } from './hear';

const RATE_HZ = 44100;
const KINDS = ['sine', 'saw', 'noise'] as const;

function sound(kind: (typeof KINDS)[number], hz: number, seconds: number): Float32Array {
  const random = createRandom(hz);
  if (kind === 'noise') return Float32Array.from({ length: seconds * RATE_HZ }, () => 0.2 * (random() - 0.5));
  const amplitude = kind === 'saw' ? saw : (n: number) => (n === 1 ? 1 : 0);
  return Float32Array.from(
    harmonicTone({ f0Hz: hz, sampleRateHz: RATE_HZ, seconds, amplitude: (n) => 0.2 * amplitude(n) }),
  );
}

/** Power of all that is heard of a sound; sounds of one loudness have been lifted to the same. */
function lift(channel: Float32Array): number {
  const [, middle] = hear({ channels: [channel], sampleRateHz: RATE_HZ }).scales;
  const heard = middle.spectrum.reduce((sum, x) => sum + x, 0);
  return heard / channel.reduce((sum, x) => sum + (x * x) / channel.length, 0);
}

// BS.1770 itself is checked against its own test signals in dsp/loudness.test.ts.
it.each(KINDS)('lifts a %s as far as its loudness by BS.1770 is short of the level of all', (kind) => {
  const lifts = [70, 220, 1000, 3500].map((hz) => {
    const channel = sound(kind, hz, 1.2);
    return 10 * Math.log10(lift(channel)) + integratedLoudness([channel], RATE_HZ);
  });
  const [first] = lifts;
  for (const other of lifts) expect(Math.abs(other - first)).toBeLessThan(kind === 'noise' ? 0.3 : 0.2);
});

it('takes a sound for no softer because silence follows', () => {
  const channel = sound('saw', 220, 1.2);
  const longer = new Float32Array(3 * channel.length);
  longer.set(channel);
  // Blocks that hold the end count, though, and are softer.
  expect(Math.abs(10 * Math.log10(lift(longer) / lift(channel)))).toBeLessThan(0.8);
});

it('leaves silence silent', () => {
  const { scales } = hear({ channels: [new Float32Array(RATE_HZ)], sampleRateHz: RATE_HZ });
  for (const { mid, side } of scales) {
    expect(Math.max(...mid)).toBe(0);
    expect(Math.max(...side)).toBe(0);
  }
});
