import { SILENT_DB, adding, byOctaves, linear, log, share } from './build';
import type { Parameter, TraitGroup } from './parameter';

/**
 * Times of an envelope are read when a note starts, so velocity or key can set them and nothing jumps within
 * a note.
 */
const routedTime = (label: string, initial: number, most = 20): Parameter =>
  log(label, 's', [0, most], initial, 0.0001, ['loudness'], adding('s', 20, 'noteStart'));

const curve = (label: string, initial: number): Parameter => linear(label, '%', [-100, 100], initial, 1, ['loudness']);

const motion: readonly TraitGroup[] = ['motion'];

/** Parameters of modulators by kind; a contour and a per-note value have none besides what they are. */
export const modulatorParameters = {
  envelope: {
    delaySeconds: routedTime('Delay', 0),
    attackSeconds: routedTime('Attack', 0.002),
    holdSeconds: routedTime('Hold', 0),
    decaySeconds: routedTime('Decay', 0.3, 60),
    sustainDb: linear('Sustain', 'dB', [SILENT_DB, 0], 0, 0.1, ['loudness'], adding('dB', 96, 'noteStart')),
    releaseSeconds: routedTime('Release', 0.08, 60),
    attackCurve: curve('Attack curve', 0),
    decayCurve: curve('Decay curve', 100),
    releaseCurve: curve('Release curve', 100),
  },
  lfo: {
    rateHz: log('Rate', 'Hz', [0.01, 100], 4, 0.001, motion, byOctaves),
    startPhaseCycles: linear('Start phase', 'cycles', [0, 1], 0, 0.01, motion),
    delaySeconds: log('Delay', 's', [0, 20], 0, 0.0001, motion),
    fadeInSeconds: log('Fade in', 's', [0, 20], 0, 0.0001, motion),
    smoothing: share('Smoothing', 0, motion, false),
  },
  contour: {},
  note: {},
  macro: { value: share('Value', 0, [], false) },
} as const satisfies Record<string, Record<string, Parameter>>;
