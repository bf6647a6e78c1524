import { cellsAround } from './cells';

it('are narrow after each event and wider the longer ago it is', () => {
  const cells = cellsAround([0.5], 2, 0.005, 0.2);
  expect(cells[0]).toBe(0);
  expect(cells.at(-1)).toBe(2);
  const at = cells.indexOf(0.5);
  expect(at).toBeGreaterThan(0);
  const widths = cells.slice(at).flatMap((edge, i, all) => (i > 0 ? [edge - all[i - 1]] : []));
  expect(widths[0]).toBeCloseTo(0.01, 6);
  expect(widths[1]).toBeGreaterThan(widths[0]);
  expect(Math.max(...widths.slice(0, -1))).toBeLessThanOrEqual(0.2 + 1e-9);
});

it('are no narrower than the window can tell, whatever happens', () => {
  const cells = cellsAround([0.1, 0.11, 0.12, 1.99], 2, 0.08, 0.5);
  cells.slice(1, -1).forEach((edge, i) => expect(edge - cells[i]).toBeGreaterThanOrEqual(0.08 - 1e-9));
});
