import type { Unit } from '../../parameters/parameter';

/** A value that a person may know better than the reading. */
export interface Overrulable {
  label: string;
  /** From the trait down to the value. */
  path: readonly [string] | readonly [string, string];
  unit: Unit;
  min: number;
  max: number;
}

export const overrulable = (
  label: string,
  path: Overrulable['path'],
  unit: Unit,
  min: number,
  max: number,
): Overrulable => ({ label, path, unit, min, max });
