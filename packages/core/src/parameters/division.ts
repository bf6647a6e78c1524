/**
 * Lengths in musical time, from 1/128 of a whole note to 16 bars of four quarters, straight, dotted and
 * triplet.
 */
export const divisions: readonly string[] = [
  ...[128, 64, 32, 16, 8, 4, 2].flatMap((n) => [`1/${n}t`, `1/${n}`, `1/${n}.`]),
  '1 bar',
  '2 bars',
  '3 bars',
  '4 bars',
  '6 bars',
  '8 bars',
  '12 bars',
  '16 bars',
];

const BEATS_PER_BAR = 4;

/**
 * Length of a division in quarter notes: `1/8.` is 0.75, `1/4t` 2/3, `2 bars` 8. Undefined when the text is
 * no division.
 */
export function beatsOfDivision(text: string): number | undefined {
  const bars = /^(\d+) ?bars?$/.exec(text.trim());
  if (bars) return Number(bars[1]) > 0 ? BEATS_PER_BAR * Number(bars[1]) : undefined;
  const match = /^1\/(\d+)([.t]?)$/.exec(text.trim().toLowerCase());
  if (!match || Number(match[1]) === 0) return undefined;
  const straight = BEATS_PER_BAR / Number(match[1]);
  return match[2] === '.' ? straight * 1.5 : match[2] === 't' ? (straight * 2) / 3 : straight;
}

/** How often a division comes round at a tempo, Hz. */
export function rateOfDivision(text: string, bpm: number): number | undefined {
  const beats = beatsOfDivision(text);
  return beats === undefined ? undefined : bpm / 60 / beats;
}
