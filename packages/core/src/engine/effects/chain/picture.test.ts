import { effect } from '../../../../test/chains';
import { effectPicture } from './picture';

const at = (points: { x: number; y: number }[], x: number) =>
  points.reduce((a, b) => (Math.abs(b.x - x) < Math.abs(a.x - x) ? b : a)).y;

describe('Pictures of effects are of what they do', () => {
  it('an equaliser: its response', () => {
    const bands = [{}, {}, {}, {}, { kind: 'bell' }, {}, {}, {}];
    const { of, points } = effectPicture(effect('equalizer', { bands, band5Hz: 1000, band5Db: 12 }), 120);
    expect(of).toBe('response');
    expect(at(points, Math.log2(1000))).toBeCloseTo(12, 0);
    expect(at(points, Math.log2(30))).toBeCloseTo(0, 0);
  });

  it('a compressor and a limiter: what comes out of what level', () => {
    const { points } = effectPicture(effect('compressor', { thresholdDb: -20, ratio: 4, kneeDb: 0 }), 120);
    expect(at(points, 0)).toBeCloseTo(-15, 1);
    expect(at(points, -40)).toBeCloseTo(-40, 0);
    expect(at(effectPicture(effect('limiter', { ceilingDb: -3, driveDb: 6 }), 120).points, 0)).toBe(-3);
  });

  it('a delay and a reverb: what follows a click', () => {
    const echoes = effectPicture(effect('delay', { leftDivision: '1/4', rightDivision: '1/4', feedback: 50 }), 120);
    expect(at(echoes.points, 0.5)).toBeCloseTo(0, 1);
    expect(at(echoes.points, 1)).toBeCloseTo(-6, 0);
    const room = effectPicture(effect('reverb', { rt60Seconds: 1, damping: 0 }), 120).points;
    expect(at(room, 0.9) - at(room, 0.4)).toBeGreaterThan(-36);
    expect(at(room, 0.9) - at(room, 0.4)).toBeLessThan(-24);
  });

  it('a drive: its curve', () => {
    expect(at(effectPicture(effect('drive', { curve: 'hard', driveDb: 6.02 }), 120).points, 0.25)).toBeCloseTo(0.5, 1);
  });
});

it('of three bands each has its line', () => {
  const { parts, points } = effectPicture(effect('multiband', { lowOutDb: -6, midUpRatio: 1, lowUpRatio: 1 }), 120);
  const [mid, low] = parts!;
  expect(parts!.map(({ name }) => name)).toEqual(['mid', 'low', 'high']);
  expect(points).toBe(mid.points);
  low.points.forEach(({ y }, i) => expect(y).toBeCloseTo(mid.points[i].y - 6, 6));
});

it('of width the middle and the side have a line each', () => {
  const { parts } = effectPicture(effect('stereo', { width: 50, monoBelowHz: 200 }), 120);
  const [middle, side] = parts!;
  expect(parts!.map(({ name }) => name)).toEqual(['middle', 'side']);
  middle.points.forEach(({ y }) => expect(y).toBeCloseTo(0, 3));
  expect(at(side.points, Math.log2(4000))).toBeCloseTo(-6, 1);
  expect(at(side.points, Math.log2(60))).toBeLessThan(-30);
});

it('a reducer: the steps of a sine, as high as a bit and as long as a sample is held', () => {
  const { of, points } = effectPicture(effect('reducer', { bits: 3, rateHz: 4410, jitter: 0 }), 120);
  expect(of).toBe('wave');
  const levels = points.map(({ y }) => y);
  // What takes constants away bends a step by no more than this from point to point.
  const slope = 0.002;
  const steps = levels.filter((y, i) => i > 0 && Math.abs(y - levels[i - 1]) > slope).length;
  expect(steps).toBeLessThanOrEqual(levels.length / 10 + 1);
});

it('a resonator: none of its peaks is missed', () => {
  const { points } = effectPicture(effect('resonator', { decaySeconds: 0.3, mix: 100, damping: 0 }), 120);
  const at440 = Math.max(...points.filter(({ x }) => Math.abs(x - Math.log2(440)) < 0.05).map(({ y }) => y));
  const at660 = at(points, Math.log2(660));
  expect(at440 - at660).toBeGreaterThan(15);
});
