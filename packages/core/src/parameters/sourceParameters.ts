import { adding, bySemitones, level, linear, log, pan, share } from './build';
import type { Parameter } from './parameter';

/** What every source has, whatever makes its sound. */
const heard = {
  levelDb: level('Level', ['loudness', 'partials']),
  /** Of its level, as a factor: a gate that any contour can open and shut, down to nothing at 0. */
  letThrough: share('Let through', 100, ['loudness', 'partials']),
  pan: pan('Pan'),
};

/** What every source with a pitch has. */
const pitched = {
  ...heard,
  octaves: linear('Octave', 'octaves', [-4, 4], 0, 1, ['pitch', 'brightness']),
  semitones: linear('Semitones', 'st', [-72, 72], 0, 1, ['pitch'], adding('st', 96)),
  cents: linear('Fine', 'ct', [-100, 100], 0, 0.1, ['pitch']),
  ratio: log('Ratio to the note', '', [0.0625, 32], 1, 0.0001, ['pitch', 'partials']),
  fixedHz: log('Fixed pitch', 'Hz', [0.1, 16000], 440, 0.01, ['pitch']),
  unisonVoices: linear('Unison voices', '', [1, 16], 1, 1, ['unison', 'width']),
  unisonDetuneCents: log('Detune, total spread', 'ct', [0, 200], 0, 0.1, ['unison', 'motion'], adding('ct', 200)),
  unisonSpacing: linear('Spacing, inner to outer', '%', [-100, 100], 0, 1, ['unison']),
  unisonBalance: linear('Outer voices against inner', 'dB', [-24, 12], 0, 0.1, ['unison']),
  unisonSpread: share('Stereo spread', 0, ['width']),
  driftCents: log('Drift', 'ct', [0, 50], 0, 0.1, ['pitch', 'unison']),
};

/** What every source that repeats one period has: where the period starts, and how its phase is shaped. */
const periodic = {
  ...pitched,
  startPhaseCycles: linear('Start phase', 'cycles', [0, 1], 0, 0.01, ['loudness']),
  startPhaseRandom: share('Start phase, random', 0, ['loudness'], false),
  phaseAmount: linear('Phase shaping', '%', [-100, 100], 0, 0.1, ['partials', 'brightness'], adding('%', 200)),
  syncSemitones: linear('Sync, above the note', 'st', [0, 60], 12, 0.01, ['partials', 'brightness'], adding('st', 60)),
  phaseSteps: log('Steps of the period', '', [2, 64], 8, 0.1, ['partials', 'dirt'], adding('', 62)),
};

export const sourceParameters = {
  shape: {
    ...periodic,
    morph: share('Morph to the next shape', 0, ['partials']),
    pulseWidth: linear('Pulse width', '%', [1, 99], 50, 0.5, ['partials'], adding('%', 98)),
  },
  wavetable: { ...periodic, position: share('Table position', 0, ['partials', 'brightness']) },
  partials: periodic,
  noise: {
    ...heard,
    slopeDbPerOctave: linear('Colour, white to brown', 'dB/oct', [-6, 0], 0, 0.1, ['noise']),
    lowHz: log('Band from', 'Hz', [20, 20000], 20, 1, ['noise'], bySemitones),
    highHz: log('Band to', 'Hz', [20, 20000], 20000, 1, ['noise'], bySemitones),
    widthPercent: share('Stereo width', 0, ['width'], false),
  },
  sample: {
    ...pitched,
    rootMidi: linear('Root note', 'note', [0, 127], 60, 0.01, ['pitch']),
    startSeconds: linear('Start', 's', [0, 30], 0, 0.0001, ['loudness'], adding('s', 30, 'noteStart')),
    loopStartSeconds: linear('Loop from', 's', [0, 30], 0, 0.0001, ['loudness']),
    loopEndSeconds: linear('Loop to', 's', [0, 30], 30, 0.0001, ['loudness']),
    crossfadeSeconds: log('Loop crossfade', 's', [0, 5], 0.01, 0.0001, ['loudness']),
  },
} as const satisfies Record<string, Record<string, Parameter>>;

const ringDepth = share('Ring modulation', 100, ['partials']);

/** What one source does to another, or to itself. */
export const interactionParameters = {
  fm: { index: log('FM index', '', [0, 30], 1, 0.001, ['partials', 'brightness'], adding('', 30)) },
  ring: { depth: ringDepth },
  ringTone: {
    depth: ringDepth,
    toneHz: log('Ring frequency', 'Hz', [0.1, 16000], 30, 0.01, ['partials', 'motion'], bySemitones),
    toneRatio: log('Ring ratio to the note', '', [0.0625, 32], 2, 0.0001, ['partials'], bySemitones),
  },
} as const satisfies Record<string, Record<string, Parameter>>;
