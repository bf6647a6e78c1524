import { ALL_HZ, placeOf, stretchBetween, valueAt, zoomed } from './stretch';

const whole = { min: 0, max: 10 };

describe('A stretch of a picture', () => {
  it('lies between two shares of what is shown, whichever way it was dragged', () => {
    expect(stretchBetween(whole, whole, 0.2, 0.5)).toEqual({ min: expect.closeTo(2, 9), max: expect.closeTo(5, 9) });
    expect(stretchBetween(whole, { min: 2, max: 4 }, 0.75, 0.25)).toEqual({
      min: expect.closeTo(2.5, 9),
      max: expect.closeTo(3.5, 9),
    });
  });

  it('is divided by ratios where frequencies are', () => {
    const { min, max } = stretchBetween(ALL_HZ, ALL_HZ, 0.25, 0.5)!;
    expect(placeOf(ALL_HZ, min)).toBeCloseTo(0.25, 9);
    expect(max).toBeCloseTo(Math.sqrt(ALL_HZ.min * ALL_HZ.max), 6);
  });

  it('is not too short, and stays inside', () => {
    const { min, max } = stretchBetween(whole, whole, 0.9995, 1)!;
    expect(max).toBeCloseTo(10, 9);
    expect(max - min).toBeCloseTo(0.1, 9);
  });

  it('comes nearer with one value staying where it is, and goes back to all there is', () => {
    const nearer = zoomed(whole, whole, true, 3)!;
    expect(placeOf(nearer, 3)).toBeCloseTo(0.3, 9);
    expect(nearer.max - nearer.min).toBeCloseTo(6, 9);
    const hz = zoomed(ALL_HZ, ALL_HZ, true, 440)!;
    expect(placeOf(hz, 440)).toBeCloseTo(placeOf(ALL_HZ, 440), 9);
    expect(valueAt(hz, placeOf(hz, 440))).toBeCloseTo(440, 6);
    expect(zoomed(whole, nearer, false, 3)).toBeNull();
  });
});
