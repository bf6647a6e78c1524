import { adding, bySemitones, linear, log, share } from './build';
import type { Parameter } from './parameter';

const colour = ['brightness', 'partials'] as const;

const cutoffAt = (label: string, initial: number): Parameter =>
  log(label, 'Hz', [20, 20000], initial, 0.1, colour, bySemitones);
const cutoffHz = cutoffAt('Cutoff at rest', 20000);
const resonanceDb = linear('Resonance', 'dB', [0, 36], 0, 0.1, colour, adding('dB', 36));
const gainDb = linear('Gain', 'dB', [-36, 36], 6, 0.1, colour, adding('dB', 72));
const q = log('Q', '', [0.1, 40], 0.71, 0.01, colour, adding('', 40));
const feedback = linear('Feedback', '%', [0, 99], 70, 0.1, ['partials', 'motion'], adding('%', 99));

/** What every filter has besides its frequency. */
const every = {
  keyTracking: linear('Key tracking, around C4', '%', [-100, 200], 0, 1, ['brightness']),
  mix: share('Wet', 100, ['brightness']),
};

const edge = { cutoffHz, resonanceDb, ...every };
const withNotch = {
  ...edge,
  notchSemitones: linear('Notch from the cutoff', 'st', [-60, 60], 12, 0.1, colour, adding('st', 120)),
  notchQ: { ...q, label: 'Notch Q', default: 2 },
};
/** A high-pass starts where it does nothing. */
const open = { cutoffHz: cutoffAt('Cutoff at rest', 20) };

/** Every kind of filter, by what it does to the sound. */
export const filterParameters = {
  lowpass: edge,
  highpass: { ...edge, ...open },
  bandpass: { ...edge, cutoffHz: cutoffAt('Frequency', 1000) },
  ladder: {
    cutoffHz,
    resonance: linear('Feedback', '%', [0, 120], 0, 0.1, colour, adding('%', 120)),
    driveDb: linear('Drive in the loop', 'dB', [0, 36], 0, 0.1, ['dirt', 'partials'], adding('dB', 36)),
    ...every,
  },
  notch: { cutoffHz: cutoffAt('Frequency', 1000), q, ...every },
  peak: { cutoffHz: cutoffAt('Frequency', 1000), gainDb, q, ...every },
  lowShelf: { cutoffHz: cutoffAt('Frequency', 200), gainDb, q, ...every },
  highShelf: { cutoffHz: cutoffAt('Frequency', 5000), gainDb, q, ...every },
  lowpassNotch: withNotch,
  highpassNotch: { ...withNotch, ...open },
  comb: { cutoffHz: cutoffAt('Frequency', 220), feedback, ...every },
  allPass: {
    cutoffHz: cutoffAt('Frequency', 1000),
    stages: linear('Stages', '', [2, 12], 4, 2, ['partials', 'motion']),
    feedback: { ...feedback, default: 30 },
    ...every,
    mix: { ...every.mix, default: 50 },
  },
  formant: {
    shiftSemitones: linear('Shift of the formants', 'st', [-24, 24], 0, 0.1, colour, adding('st', 48)),
    vowel: share('Vowel, a e i o u', 0, ['partials']),
    resonanceDb: { ...resonanceDb, default: 20 },
    ...every,
  },
} as const satisfies Record<string, Record<string, Parameter>>;

export const shaperParameters = {
  driveDb: linear('Drive', 'dB', [0, 48], 12, 0.1, ['dirt', 'partials', 'brightness'], adding('dB', 48)),
  bias: linear('Even partials', '%', [-100, 100], 0, 1, ['dirt', 'partials'], adding('%', 200)),
  outputDb: linear('Output', 'dB', [-36, 12], 0, 0.1, ['loudness']),
  mix: share('Wet', 100, ['dirt']),
};
