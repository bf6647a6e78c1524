const numbers = new WeakMap<object, number>();
let last = 0;

/** A number for a sound or for what was read of it, so that what was made of it can be found again. */
export function soundKey(sound: object): number {
  const known = numbers.get(sound) ?? ++last;
  numbers.set(sound, known);
  return known;
}
