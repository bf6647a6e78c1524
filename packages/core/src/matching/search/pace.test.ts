import { createPace } from './pace';

const paceAfter = (budget: { renders?: number; budgetSeconds: number }, made: number, seconds: number) => {
  let now = 1;
  let count = 0;
  const pace = createPace(
    budget,
    () => count,
    () => now,
  );
  pace.begin();
  [now, count] = [1 + seconds, made];
  return pace.total();
};

it('is what was asked for, where time does not matter', () => {
  expect(paceAfter({ renders: 300, budgetSeconds: Infinity }, 10, 5)).toBe(300);
  expect(paceAfter({ renders: 300, budgetSeconds: 1000 }, 10, 1)).toBe(300);
});

it('is what the time allows at the pace so far, once it is known', () => {
  // 99 of 100 seconds are left for rendering when the first begins; 30 renders are kept for the end.
  expect(paceAfter({ budgetSeconds: 100 }, 20, 1)).toBe(20 * 99 - 30);
  expect(paceAfter({ budgetSeconds: 100 }, 40, 1)).toBe(40 * 99 - 30);
  expect(paceAfter({ renders: 100, budgetSeconds: 10 }, 40, 1)).toBe(100);
});

it('leaves enough to share among stages, however slow the machine', () => {
  expect(paceAfter({ budgetSeconds: 2 }, 1, 1)).toBeGreaterThanOrEqual(60);
});
