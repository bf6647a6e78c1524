import type { Parameter } from './parameter';

const PITCH_ROUTING = { unit: 'st', combine: 'add', min: -96, max: 96 } as const;
const LEVEL_ROUTING = { unit: 'dB', combine: 'add', min: -96, max: 48 } as const;

const LEVEL = { unit: 'dB', min: -96, max: 24, default: 0, scale: 'linear', step: 0.1, moves: ['loudness'] } as const;

/** What every source has, whatever makes its sound. */
const source = {
  levelDb: { ...LEVEL, label: 'Level', routing: LEVEL_ROUTING, moves: ['loudness', 'partials'] },
  octaves: {
    label: 'Octave',
    unit: 'octaves',
    min: -4,
    max: 4,
    default: 0,
    scale: 'linear',
    step: 1,
    moves: ['pitch', 'brightness'],
  },
  semitones: {
    label: 'Semitones',
    unit: 'st',
    min: -36,
    max: 36,
    default: 0,
    scale: 'linear',
    step: 1,
    routing: PITCH_ROUTING,
    moves: ['pitch'],
  },
  cents: { label: 'Fine', unit: 'ct', min: -100, max: 100, default: 0, scale: 'linear', step: 0.1, moves: ['pitch'] },
  startPhaseCycles: {
    label: 'Start phase',
    unit: 'cycles',
    min: 0,
    max: 1,
    default: 0,
    scale: 'linear',
    step: 0.01,
    moves: ['loudness'],
  },
  unisonVoices: {
    label: 'Unison voices',
    unit: '',
    min: 1,
    max: 16,
    default: 1,
    scale: 'linear',
    step: 1,
    moves: ['unison', 'width'],
  },
  unisonDetuneCents: {
    label: 'Detune, total spread',
    unit: 'ct',
    min: 0,
    max: 200,
    default: 0,
    scale: 'log',
    step: 0.1,
    moves: ['unison', 'motion'],
  },
  unisonSpread: {
    label: 'Stereo spread',
    unit: '%',
    min: 0,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 1,
    moves: ['width'],
  },
} as const satisfies Record<string, Parameter>;

const shape = {
  ...source,
  pulseWidth: {
    label: 'Pulse width',
    unit: '%',
    min: 1,
    max: 99,
    default: 50,
    scale: 'linear',
    step: 0.5,
    routing: { unit: '%', combine: 'add', min: -98, max: 98 },
    moves: ['partials'],
  },
} as const satisfies Record<string, Parameter>;

const wavetable = {
  ...source,
  position: {
    label: 'Table position',
    unit: '%',
    min: 0,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 0.1,
    routing: { unit: '%', combine: 'add', min: -100, max: 100 },
    moves: ['partials', 'brightness'],
  },
} as const satisfies Record<string, Parameter>;

const lowpass = {
  cutoffHz: {
    label: 'Cutoff at rest',
    unit: 'Hz',
    min: 20,
    max: 20000,
    default: 20000,
    scale: 'log',
    step: 0.1,
    routing: { unit: 'st', combine: 'semitones', min: -120, max: 120 },
    moves: ['brightness', 'partials'],
  },
  resonanceDb: {
    label: 'Resonance',
    unit: 'dB',
    min: 0,
    max: 36,
    default: 0,
    scale: 'linear',
    step: 0.1,
    routing: { unit: 'dB', combine: 'add', min: -36, max: 36 },
    moves: ['brightness', 'partials'],
  },
  keyTracking: {
    label: 'Key tracking',
    unit: '%',
    min: 0,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 1,
    moves: ['brightness'],
  },
} as const satisfies Record<string, Parameter>;

/** Silence on a dB scale: levels at or under this are off. */
export const SILENT_DB = -96;

const envelope = {
  attackSeconds: {
    label: 'Attack',
    unit: 's',
    min: 0,
    max: 20,
    default: 0.002,
    scale: 'log',
    step: 0.0001,
    moves: ['loudness'],
  },
  holdSeconds: {
    label: 'Hold',
    unit: 's',
    min: 0,
    max: 20,
    default: 0,
    scale: 'log',
    step: 0.0001,
    moves: ['loudness'],
  },
  decaySeconds: {
    label: 'Decay',
    unit: 's',
    min: 0,
    max: 60,
    default: 0.3,
    scale: 'log',
    step: 0.0001,
    moves: ['loudness'],
  },
  sustainDb: {
    label: 'Sustain',
    unit: 'dB',
    min: SILENT_DB,
    max: 0,
    default: 0,
    scale: 'linear',
    step: 0.1,
    moves: ['loudness'],
  },
  releaseSeconds: {
    label: 'Release',
    unit: 's',
    min: 0,
    max: 60,
    default: 0.08,
    scale: 'log',
    step: 0.0001,
    moves: ['loudness'],
  },
} as const satisfies Record<string, Parameter>;

const layer = { levelDb: { ...LEVEL, label: 'Layer level' } } as const satisfies Record<string, Parameter>;

/**
 * THE parameter table, by kind of module. The patch schema takes ranges and defaults from it, the rulers labels, units
 * and scales, the engine its routing, the docs everything.
 */
export const parameterTable = { shape, wavetable, lowpass, envelope, layer } as const;

export type ModuleKind = keyof typeof parameterTable;

/** Entry of a parameter, or undefined when that kind of module has none of that name. */
export function parameterOf(kind: ModuleKind, name: string): Parameter | undefined {
  return (parameterTable[kind] as Record<string, Parameter>)[name];
}
