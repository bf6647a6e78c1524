import { namedInks as inks } from '../../../test/inks';
import { ALL_HZ } from '../../drawing/stretch';
import { BELOW_PX, LEFT_PX, RIGHT_PX, drawAxes, drawInside, drawOverprint, planeOf } from './plots';

/** A context that writes down what is drawn with it. */
function recorder() {
  const calls: { name: string; args: unknown[]; fill: unknown; stroke: unknown; operation: unknown }[] = [];
  const fields: Record<string, unknown> = {};
  const context = new Proxy(fields, {
    get: (own, name: string) =>
      name in own
        ? own[name]
        : (...args: unknown[]) =>
            calls.push({
              name,
              args,
              fill: own.fillStyle,
              stroke: own.strokeStyle,
              operation: own.globalCompositeOperation,
            }),
    set: (own, name: string, value) => {
      own[name] = value;
      return true;
    },
  }) as unknown as CanvasRenderingContext2D;
  return { context, calls, named: (name: string) => calls.filter((call) => call.name === name) };
}

const plane = planeOf(400, 120, { min: 0, max: 2 }, { min: -60, max: 0 });

describe('A plane', () => {
  it('has its first and last values at the edges of the picture, beside the figures', () => {
    expect(plane.x(0)).toBe(LEFT_PX);
    expect(plane.x(2)).toBe(400 - RIGHT_PX);
    expect(plane.y(0)).toBe(2);
    expect(plane.y(-60)).toBe(120 - BELOW_PX - 2);
  });

  it('lays what is too high or too low on the edge', () => {
    expect(plane.y(20)).toBe(plane.y(0));
    expect(plane.y(-200)).toBe(plane.y(-60));
    expect(plane.x(3)).toBeGreaterThan(plane.x(2));
  });

  it('divides frequencies by ratios', () => {
    const { x } = planeOf(400, 120, ALL_HZ, { min: -60, max: 0 });
    expect(x(200) - x(100)).toBeCloseTo(x(8000) - x(4000), 9);
  });
});

it('draws a hairline and a figure for each mark, and leaves out those beside the picture', () => {
  const { context, named } = recorder();
  drawAxes(
    context,
    plane,
    inks,
    [
      [0, '0 dB'],
      [-30, '−30 dB'],
    ],
    [
      [1, '1 s'],
      [9, '9 s'],
    ],
  );
  expect(named('stroke')).toHaveLength(2);
  expect(named('fillText').map(({ args }) => args[0])).toEqual(['0 dB', '−30 dB', '1 s']);
  // Figures at the very top are not cut off.
  for (const { args } of named('fillText')) expect(args[2]).toBeGreaterThanOrEqual(9);
});

it('draws nothing outside the picture', () => {
  const { context, calls } = recorder();
  drawInside(context, plane, () => context.fillRect(0, 0, 9999, 9999));
  const names = calls.map(({ name }) => name);
  expect(names.indexOf('clip')).toBeLessThan(names.indexOf('fillRect'));
  expect(names.at(-1)).toBe('restore');
});

describe('Two lines over one another', () => {
  const line = (...ys: (number | null)[]) => ys.map((y, i) => [0.2 * i, y] as const);

  it('are the reference filled, and both drawn in their inks, multiplied', () => {
    const { context, named } = recorder();
    drawOverprint(context, plane, inks, line(-10, -20, -30), line(-12, -22, -28), 100);
    expect(named('fill').map(({ fill }) => fill)).toEqual(['blue']);
    expect(named('stroke').map(({ stroke, operation }) => [stroke, operation])).toEqual([
      ['blue', 'multiply'],
      ['red', 'multiply'],
    ]);
  });

  it('are broken where there is nothing, and a single point is no line', () => {
    const { context, named } = recorder();
    drawOverprint(context, plane, inks, line(-10, -20, null, -30, -40, null, -5), line(null, null), 100);
    expect(named('stroke')).toHaveLength(2);
    expect(named('fill')).toHaveLength(2);
  });
});
