/**
 * Q of the two-pole sections of a Butterworth filter, lowest first; an odd order has one pole besides
 * (Butterworth 1930: poles evenly spaced on a circle).
 */
export const butterworthQs = (order: number): number[] =>
  Array.from(
    { length: Math.floor(order / 2) },
    (_, k) => 1 / (2 * Math.cos((Math.PI * (2 * k + 1 + (order % 2))) / (2 * order))),
  );
