import { beatsOfDivision, divisions } from '../../parameters/division';

const DIVISION_TOLERANCE = 0.025;

/** The division that a rate is nearest to at a tempo; undefined when it is none. */
export function divisionOf(rateHz: number, bpm: number): string | undefined {
  const beats = bpm / 60 / rateHz;
  const away = (division: string) => Math.abs(Math.log(beatsOfDivision(division)! / beats));
  const nearest = divisions.reduce((a, b) => (away(b) < away(a) ? b : a));
  return away(nearest) < DIVISION_TOLERANCE ? nearest : undefined;
}
