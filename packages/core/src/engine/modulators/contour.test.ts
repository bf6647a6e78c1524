import { compileContour, contourValue } from './contour';

const contour = compileContour({
  points: [
    { seconds: 0.1, value: -1 },
    { seconds: 0.2, value: 1 },
    { seconds: 0.6, value: 0 },
  ],
});

it.each([
  [0, -1],
  [0.1, -1],
  [0.15, 0],
  [0.2, 1],
  [0.4, 0.5],
  [0.6, 0],
  [9, 0],
])('a contour at %f s is %f', (seconds, value) => expect(contourValue(contour, seconds)).toBeCloseTo(value, 9));

it('a contour of one point is that value always', () => {
  const flat = compileContour({ points: [{ seconds: 3, value: 0.25 }] });
  for (const seconds of [0, 3, 10]) expect(contourValue(flat, seconds)).toBe(0.25);
});
