import { solveLinear } from './solveLinear';

const rowsOf = (rows: readonly number[][]) => rows.map((row) => Float64Array.from(row));

describe('Linear equations', () => {
  it('are solved in any order of their rows', () => {
    // Of x, y, z = 2, 1, 3.
    const rows = [
      [0, 4, -1, 1],
      [2, 1, 0, 5],
      [1, -1, 3, 10],
    ];
    for (const order of [rows, [...rows].reverse()])
      expect([...solveLinear(rowsOf(order))].map((x) => Number(x.toFixed(9)))).toEqual([2, 1, 3]);
  });

  it('that say nothing of an unknown leave it at 0', () => {
    expect([
      ...solveLinear(
        rowsOf([
          [2, 0, 6],
          [0, 0, 0],
        ]),
      ),
    ]).toEqual([3, 0]);
  });
});
