import { harmonicTone, rms, saw } from '../../test/signals';
import { harmonicsOfFrame } from '../engine/tables/bandlimitedTable';
import { measure } from '../reading/read';
import { extractWavetable, quietestPhase } from './wavetableExtraction';

const RATE = 44100;
const FRAMES = 24;
// Partial 3 grows from nothing to 0.5 over the note, the others stay.
const length = RATE;
const sound = harmonicTone({ f0Hz: 220, amplitude: (n) => (n === 3 || n > 6 ? 0 : saw(n)) });
for (let i = 0; i < length; i++) sound[i] += ((0.12 * i) / length) * Math.sin((2 * Math.PI * 660 * i) / RATE);
const { samples, positions } = extractWavetable(measure({ channels: [sound], sampleRateHz: RATE }));

const partial = (frame: number, n: number) => {
  const { cosine, sine } = harmonicsOfFrame(samples.subarray(frame * 2048, (frame + 1) * 2048));
  return Math.hypot(cosine[n], sine[n]) / Math.hypot(cosine[1], sine[1]);
};

describe('A wavetable along a note', () => {
  it('keeps the partials that stay', () => {
    for (const frame of [2, 12, 21]) expect(partial(frame, 2)).toBeCloseTo(0.5, 1);
  });
  it('follows the partial that grows', () => {
    expect(partial(3, 3)).toBeLessThan(0.1);
    expect(partial(21, 3)).toBeGreaterThan(partial(12, 3));
    expect(partial(12, 3)).toBeGreaterThan(partial(3, 3));
  });
  it('goes from its first frame to its last along the note', () => {
    expect(positions).toHaveLength(FRAMES);
    expect(positions[0].value).toBe(0);
    expect(positions[FRAMES - 1].value).toBe(1);
    positions.slice(1).forEach((point, i) => expect(point.seconds).toBeGreaterThan(positions[i].seconds));
  });
  it('holds no sample beyond ±1, and reaches it', () => {
    const peak = samples.reduce((a, x) => Math.max(a, Math.abs(x)), 0);
    expect(peak).toBeCloseTo(1, 6);
  });
  it('shares one set of phases, so that neighbours blend without cancelling', () => {
    const mixed = samples.subarray(10 * 2048, 11 * 2048).map((x, i) => 0.5 * (x + samples[11 * 2048 + i]));
    expect(rms(mixed)).toBeGreaterThan(0.98 * rms(samples.subarray(10 * 2048, 11 * 2048)));
  });
});

it('a note begins where the table is quietest', () => {
  const frame = Float32Array.from({ length: 2048 }, (_, i) => Math.sin((2 * Math.PI * (i - 300)) / 2048));
  const phase = quietestPhase(frame);
  expect(Math.abs(Math.sin(2 * Math.PI * (phase - 300 / 2048)))).toBeLessThan(0.01);
});
