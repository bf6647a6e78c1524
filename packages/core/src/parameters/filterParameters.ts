import type { Parameter } from './parameter';
import { percent } from './common';

const cutoffHz = {
  label: 'Cutoff at rest',
  unit: 'Hz',
  min: 20,
  max: 20000,
  default: 20000,
  scale: 'log',
  step: 0.1,
  routing: { unit: 'st', combine: 'semitones', min: -120, max: 120 },
  moves: ['brightness', 'partials'],
} as const satisfies Parameter;

const resonanceDb = {
  label: 'Resonance',
  unit: 'dB',
  min: 0,
  max: 36,
  default: 0,
  scale: 'linear',
  step: 0.1,
  routing: { unit: 'dB', combine: 'add', min: -36, max: 36 },
  moves: ['brightness', 'partials'],
} as const satisfies Parameter;

/** What every filter has besides its frequency. */
const every = {
  keyTracking: {
    label: 'Key tracking',
    unit: '%',
    min: -100,
    max: 200,
    default: 0,
    scale: 'linear',
    step: 1,
    moves: ['brightness'],
  },
  mix: { ...percent('Wet', 100, ['brightness']), routing: { unit: '%', combine: 'add', min: -100, max: 100 } },
} as const satisfies Record<string, Parameter>;

const edge = { cutoffHz, resonanceDb, ...every } as const;

const gainDb = {
  label: 'Gain',
  unit: 'dB',
  min: -36,
  max: 36,
  default: 6,
  scale: 'linear',
  step: 0.1,
  routing: { unit: 'dB', combine: 'add', min: -72, max: 72 },
  moves: ['brightness', 'partials'],
} as const satisfies Parameter;

const q = {
  label: 'Q',
  unit: '',
  min: 0.1,
  max: 40,
  default: 0.71,
  scale: 'log',
  step: 0.01,
  routing: { unit: '', combine: 'add', min: -40, max: 40 },
  moves: ['brightness', 'partials'],
} as const satisfies Parameter;

const frequencyHz = { ...cutoffHz, label: 'Frequency', default: 1000 } as const satisfies Parameter;

const notchSemitones = {
  label: 'Notch from the cutoff',
  unit: 'st',
  min: -60,
  max: 60,
  default: 12,
  scale: 'linear',
  step: 0.1,
  routing: { unit: 'st', combine: 'add', min: -120, max: 120 },
  moves: ['brightness', 'partials'],
} as const satisfies Parameter;

const withNotch = {
  ...edge,
  notchSemitones,
  notchQ: { ...q, label: 'Notch Q', default: 2 },
} as const satisfies Record<string, Parameter>;

const feedback = {
  ...percent('Feedback', 70, ['partials', 'motion']),
  max: 99,
  step: 0.1,
  routing: { unit: '%', combine: 'add', min: -99, max: 99 },
} as const satisfies Parameter;

/** Every kind of filter, by what it does to the sound. */
export const filterParameters = {
  lowpass: edge,
  highpass: { ...edge, cutoffHz: { ...cutoffHz, default: 20 } },
  bandpass: { ...edge, cutoffHz: frequencyHz },
  ladder: {
    cutoffHz,
    resonance: {
      label: 'Resonance',
      unit: '%',
      min: 0,
      max: 120,
      default: 0,
      scale: 'linear',
      step: 0.1,
      routing: { unit: '%', combine: 'add', min: -120, max: 120 },
      moves: ['brightness', 'partials'],
    },
    driveDb: {
      label: 'Drive in the loop',
      unit: 'dB',
      min: 0,
      max: 36,
      default: 0,
      scale: 'linear',
      step: 0.1,
      routing: { unit: 'dB', combine: 'add', min: -36, max: 36 },
      moves: ['dirt', 'partials'],
    },
    ...every,
  },
  notch: { cutoffHz: frequencyHz, q, ...every },
  peak: { cutoffHz: frequencyHz, gainDb, q, ...every },
  lowShelf: { cutoffHz: { ...frequencyHz, default: 200 }, gainDb, q, ...every },
  highShelf: { cutoffHz: { ...frequencyHz, default: 5000 }, gainDb, q, ...every },
  lowpassNotch: withNotch,
  highpassNotch: { ...withNotch, cutoffHz: { ...cutoffHz, default: 20 } },
  comb: { cutoffHz: { ...frequencyHz, default: 220 }, feedback, ...every },
  phaser: {
    cutoffHz: frequencyHz,
    stages: {
      label: 'Stages',
      unit: '',
      min: 2,
      max: 12,
      default: 4,
      scale: 'linear',
      step: 2,
      moves: ['partials', 'motion'],
    },
    feedback: { ...feedback, default: 30 },
    ...every,
    mix: { ...every.mix, default: 50 },
  },
  formant: {
    shiftSemitones: {
      label: 'Shift of the formants',
      unit: 'st',
      min: -24,
      max: 24,
      default: 0,
      scale: 'linear',
      step: 0.1,
      routing: { unit: 'st', combine: 'add', min: -48, max: 48 },
      moves: ['partials', 'brightness'],
    },
    vowel: {
      ...percent('Vowel, a e i o u', 0, ['partials']),
      step: 0.1,
      routing: { unit: '%', combine: 'add', min: -100, max: 100 },
    },
    resonanceDb: { ...resonanceDb, default: 20 },
    ...every,
  },
} as const satisfies Record<string, Record<string, Parameter>>;

export const shaperParameters = {
  driveDb: {
    label: 'Drive',
    unit: 'dB',
    min: 0,
    max: 48,
    default: 12,
    scale: 'linear',
    step: 0.1,
    routing: { unit: 'dB', combine: 'add', min: -48, max: 48 },
    moves: ['dirt', 'partials', 'brightness'],
  },
  bias: {
    label: 'Lean, for even partials',
    unit: '%',
    min: -100,
    max: 100,
    default: 0,
    scale: 'linear',
    step: 1,
    routing: { unit: '%', combine: 'add', min: -200, max: 200 },
    moves: ['dirt', 'partials'],
  },
  outputDb: {
    label: 'Output',
    unit: 'dB',
    min: -36,
    max: 12,
    default: 0,
    scale: 'linear',
    step: 0.1,
    moves: ['loudness'],
  },
  mix: { ...percent('Wet', 100, ['dirt']), routing: { unit: '%', combine: 'add', min: -100, max: 100 } },
} as const satisfies Record<string, Parameter>;
