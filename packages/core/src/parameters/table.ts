import { LEVEL, LEVEL_ROUTING, percent } from './common';
import { filterParameters, shaperParameters } from './filterParameters';
import { modulatorParameters } from './modulatorParameters';
import type { Parameter } from './parameter';
import { interactionParameters, sourceParameters } from './sourceParameters';

const layer = {
  levelDb: { ...LEVEL, label: 'Layer level', routing: LEVEL_ROUTING },
  pan: {
    label: 'Layer pan',
    unit: '%',
    min: -100,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 1,
    routing: { unit: '%', combine: 'add', min: -200, max: 200 },
    moves: ['width'],
  },
  velocitySensitivity: { ...percent('Velocity to level', 100, ['loudness']) },
} as const satisfies Record<string, Parameter>;

/** How the notes of a layer follow one another. */
const voice = {
  polyphony: {
    label: 'Notes at once',
    unit: '',
    min: 1,
    max: 32,
    default: 32,
    scale: 'linear',
    step: 1,
    moves: ['loudness'],
  },
  glideSeconds: {
    label: 'Glide',
    unit: 's',
    min: 0,
    max: 10,
    default: 0,
    scale: 'log',
    step: 0.0001,
    moves: ['pitch'],
  },
  glideCurve: {
    label: 'Glide curve',
    unit: '%',
    min: -100,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 1,
    moves: ['pitch'],
  },
  bendSemitones: {
    label: 'Bend range',
    unit: 'st',
    min: 0,
    max: 48,
    default: 2,
    scale: 'linear',
    step: 1,
    moves: ['pitch'],
  },
} as const satisfies Record<string, Parameter>;

const patch = {
  bpm: { label: 'Tempo', unit: 'BPM', min: 20, max: 300, default: 120, scale: 'linear', step: 0.01, moves: ['motion'] },
} as const satisfies Record<string, Parameter>;

/**
 * THE parameter table, by kind of module. The patch schema takes ranges and defaults from it, the rulers labels, units
 * and scales, the engine its routing, the docs everything.
 */
export const parameterTable = {
  ...sourceParameters,
  ...interactionParameters,
  ...filterParameters,
  shaper: shaperParameters,
  ...modulatorParameters,
  layer,
  voice,
  patch,
} as const;

export type ModuleKind = keyof typeof parameterTable;

/** All parameters of a kind of module, in the order in which they are shown. */
export const parametersOf = (kind: ModuleKind): Readonly<Record<string, Parameter>> => parameterTable[kind];

/** Entry of a parameter, or undefined when that kind of module has none of that name. */
export function parameterOf(kind: ModuleKind, name: string): Parameter | undefined {
  return parametersOf(kind)[name];
}
