import type { Parameter, Routing, Scale, TraitGroup, Unit } from './parameter';

/** Short ways to write entries of the parameter table. */

type Range = readonly [min: number, max: number];

const entry =
  (scale: Scale) =>
  (
    label: string,
    unit: Unit,
    [min, max]: Range,
    initial: number,
    step: number,
    moves: readonly TraitGroup[],
    routing?: Routing,
  ): Parameter => ({ label, unit, min, max, default: initial, scale, step, moves, ...(routing ? { routing } : {}) });

/** A parameter with evenly spread values, and one whose values are spread by ratio. */
export const linear = entry('linear');
export const log = entry('log');

/** Routes that add up to so much either way, in the parameter's own unit. */
export const adding = (unit: Unit, most: number, moment?: Routing['moment']): Routing => ({
  unit,
  combine: 'add',
  min: -most,
  max: most,
  ...(moment ? { moment } : {}),
});

/** Routes that multiply a frequency, counted in semitones. */
export const bySemitones: Routing = { unit: 'st', combine: 'semitones', min: -120, max: 120 };
/** Routes that multiply a rate, counted in octaves. */
export const byOctaves: Routing = { unit: 'octaves', combine: 'octaves', min: -8, max: 8 };

/** Silence on a dB scale: levels at or under this are off. */
export const SILENT_DB = -96;

const levelRouting: Routing = { unit: 'dB', combine: 'add', min: SILENT_DB, max: 48 };

export const level = (label: string, moves: readonly TraitGroup[]): Parameter =>
  linear(label, 'dB', [SILENT_DB, 24], 0, 0.1, moves, levelRouting);

export const pan = (label: string): Parameter => linear(label, '%', [-100, 100], 0, 1, ['width'], adding('%', 200));

/** A share from nothing to all; `moves` with routes when its step is given. */
export const share = (label: string, initial: number, moves: readonly TraitGroup[], routed = true): Parameter =>
  linear(label, '%', [0, 100], initial, routed ? 0.1 : 1, moves, routed ? adding('%', 100) : undefined);
