import { type Story, blurred, decode, encode, placesOf } from './envelopeModel';
import { RIPPLE_PARTS } from './levelContour';
import { slopesAt } from './envelopeSlopes';

const WINDOW_SECONDS = 0.02;
const seconds = Float64Array.from({ length: 90 }, (_, i) => 0.003 + i * 0.0117);
const contour = { hopSeconds: 0.001, windowSeconds: WINDOW_SECONDS, rms: new Float64Array(1000) };
const rippled = Float64Array.from({ length: RIPPLE_PARTS }, (_, i) => 1 + 0.7 * Math.sin(i) ** 3);
const rippling = { ...contour, ripple: { periodSeconds: 0.013, originSeconds: 0.002, power: rippled } };
const whole = { onset: 0.1, attack: 0.05, hold: 0.1, decay: 0.3, sustain: 0.25, off: 0.6, release: 0.2 };
const STEP = 1e-7;

describe.each([
  ['a note with a release', 'released', encode(whole)],
  ['one that falls from its start', 'released', encode({ ...whole, attack: 0.001, hold: 0.001, sustain: 0.81 })],
  ['one that is let go while it rises', 'released', encode({ ...whole, attack: 0.7 })],
  ['one whose sustain is turned round', 'released', encode(whole).with(4, 1.3).with(7, 0.2)],
  ['one that is not let go', 'held', encode(whole)],
  ['an even one', 'even', encode(whole)],
] as [string, Story, number[]][])('Of %s', (_, story, point) => {
  it.each([
    ['even', contour],
    ['rippling', rippling],
  ])('the slopes are those of the %s level', (_kind, measured) => {
    const places = placesOf(seconds, measured);
    const levelAt = (at: number[], place: number) => blurred(decode(at, story), places, place, WINDOW_SECONDS);
    const slopes = new Float64Array(point.length);
    const slopesOf = slopesAt(point, story, WINDOW_SECONDS);
    // Where a corner of the curve lies within the step, no slope is right.
    let compared = 0;
    for (let place = 0; place < seconds.length; place++) {
      expect(slopesOf(places, place, slopes)).toBeCloseTo(levelAt(point, place), 12);
      for (let axis = 0; axis < point.length; axis++) {
        const [below, here, above] = [-STEP, 0, STEP].map((step) =>
          levelAt(point.with(axis, point[axis] + step), place),
        );
        if (Math.abs(above - 2 * here + below) > 1e-9) continue;
        compared++;
        expect(slopes[axis]).toBeCloseTo((above - below) / (2 * STEP), 4);
      }
    }
    expect(compared).toBeGreaterThan(0.95 * seconds.length * point.length);
  });
});
