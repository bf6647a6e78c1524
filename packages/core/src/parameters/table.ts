import { adding, level, linear, log, pan, share } from './build';
import { effectParameters } from './effects';
import { filterParameters, shaperParameters } from './filterParameters';
import { modulatorParameters } from './modulatorParameters';
import type { Parameter } from './parameter';
import { interactionParameters, sourceParameters } from './sourceParameters';

const layer = {
  levelDb: level('Layer level', ['loudness']),
  pan: pan('Layer pan'),
  semitones: linear('Layer pitch', 'st', [-48, 48], 0, 0.01, ['pitch'], adding('st', 96)),
  /** Added to the spread of every source that has voices to spread. */
  detuneCents: linear('Layer detune', 'ct', [-200, 200], 0, 0.1, ['unison'], adding('ct', 200)),
  velocitySensitivity: share('Velocity to level', 100, ['loudness'], false),
};

/** How the notes of a layer follow one another. */
const voice = {
  polyphony: linear('Notes at once', '', [1, 32], 32, 1, ['loudness']),
  glideSeconds: log('Glide', 's', [0, 10], 0, 0.0001, ['pitch']),
  glideCurve: linear('Glide curve', '%', [-100, 100], 0, 1, ['pitch']),
  glideInSemitones: linear('Glides in from', 'st', [-48, 48], 0, 0.1, ['pitch']),
  glideInSeconds: log('Glides in over', 's', [0, 10], 0.05, 0.0001, ['pitch']),
  bendSemitones: linear('Bend range', 'st', [0, 48], 2, 1, ['pitch']),
};

const patch = { bpm: linear('Tempo', 'BPM', [20, 300], 120, 0.01, ['motion']) };

/**
 * THE parameter table, by kind of module. The patch schema takes ranges and defaults from it, the rulers
 * labels, units and scales, the engine its routing, the docs everything.
 */
export const parameterTable = {
  ...sourceParameters,
  ...interactionParameters,
  ...filterParameters,
  shaper: shaperParameters,
  ...effectParameters,
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
