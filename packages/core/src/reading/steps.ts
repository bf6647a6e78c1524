/**
 * Long work that can be put aside: every step yields how much is done, 0..1, and the last returns the result.
 */
export type Steps<T> = Generator<number, T, void>;

/** Does all of it at once. */
export function finish<T>(steps: Steps<T>): T {
  let step = steps.next();
  while (!step.done) step = steps.next();
  return step.value;
}
