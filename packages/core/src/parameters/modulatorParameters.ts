import type { Parameter } from './parameter';
import { SILENT_DB, percent } from './common';

/** Times of an envelope are read when a note starts, so velocity or key can set them and nothing jumps within a note. */
const TIME_ROUTING = { unit: 's', combine: 'add', min: -20, max: 20, moment: 'noteStart' } as const;

const time = {
  unit: 's',
  min: 0,
  max: 20,
  default: 0,
  scale: 'log',
  step: 0.0001,
  routing: TIME_ROUTING,
  moves: ['loudness'],
} as const satisfies Partial<Parameter>;

const curve = {
  unit: '%',
  min: -100,
  max: 100,
  default: 0,
  scale: 'linear',
  step: 1,
  moves: ['loudness'],
} as const satisfies Partial<Parameter>;

const envelope = {
  delaySeconds: { ...time, label: 'Delay' },
  attackSeconds: { ...time, label: 'Attack', default: 0.002 },
  holdSeconds: { ...time, label: 'Hold' },
  decaySeconds: { ...time, label: 'Decay', max: 60, default: 0.3 },
  sustainDb: {
    label: 'Sustain',
    unit: 'dB',
    min: SILENT_DB,
    max: 0,
    default: 0,
    scale: 'linear',
    step: 0.1,
    routing: { unit: 'dB', combine: 'add', min: -96, max: 96, moment: 'noteStart' },
    moves: ['loudness'],
  },
  releaseSeconds: { ...time, label: 'Release', max: 60, default: 0.08 },
  attackCurve: { ...curve, label: 'Attack curve' },
  decayCurve: { ...curve, label: 'Decay curve', default: 100 },
  releaseCurve: { ...curve, label: 'Release curve', default: 100 },
} as const satisfies Record<string, Parameter>;

const lfo = {
  rateHz: {
    label: 'Rate',
    unit: 'Hz',
    min: 0.01,
    max: 100,
    default: 4,
    scale: 'log',
    step: 0.001,
    routing: { unit: 'octaves', combine: 'octaves', min: -8, max: 8 },
    moves: ['motion'],
  },
  startPhaseCycles: {
    label: 'Start phase',
    unit: 'cycles',
    min: 0,
    max: 1,
    default: 0,
    scale: 'linear',
    step: 0.01,
    moves: ['motion'],
  },
  delaySeconds: { ...time, routing: undefined, label: 'Delay', moves: ['motion'] },
  fadeInSeconds: { ...time, routing: undefined, label: 'Fade in', moves: ['motion'] },
  smoothing: percent('Smoothing', 0, ['motion']),
} as const satisfies Record<string, Parameter>;

const none = {} as const satisfies Record<string, Parameter>;

const macro = {
  value: percent('Value', 0, []),
} as const satisfies Record<string, Parameter>;

/** Parameters of modulators by kind; a contour and a per-note value have none besides what they are. */
export const modulatorParameters = { envelope, lfo, contour: none, note: none, macro } as const;
