import type { Parameter, TraitGroup } from './parameter';

/** Silence on a dB scale: levels at or under this are off. */
export const SILENT_DB = -96;

export const PITCH_ROUTING = { unit: 'st', combine: 'add', min: -96, max: 96 } as const;
export const LEVEL_ROUTING = { unit: 'dB', combine: 'add', min: -96, max: 48 } as const;

export const LEVEL = {
  unit: 'dB',
  min: SILENT_DB,
  max: 24,
  default: 0,
  scale: 'linear',
  step: 0.1,
  moves: ['loudness'],
} as const;

/** A share from nothing to all. */
export function percent<const G extends readonly TraitGroup[]>(label: string, initial: number, moves: G) {
  return {
    label,
    unit: '%',
    min: 0,
    max: 100,
    default: initial,
    scale: 'linear',
    step: 1,
    moves,
  } as const satisfies Parameter;
}
