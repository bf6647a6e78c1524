import { adding, byOctaves, bySemitones, level, linear, log, pan, share } from './build';
import { shaperParameters } from './filterParameters';
import type { Parameter } from './parameter';

/** What every effect has: how much of it is heard beside what goes in. */
const wet = (initial = 100): Parameter => share('Wet', initial, ['loudness']);

/** Level behind an effect, so that one can be heard against its absence fairly. */
const outputDb = linear('Output', 'dB', [-36, 24], 0, 0.1, ['loudness'], adding('dB', 60));

export const EQUALIZER_BANDS = 8;
const bandHz = [30, 80, 200, 500, 1200, 3000, 7000, 14000];

type BandNumber = 1 | 2 | 3 | 4 | 5 | 6 | 7 | 8;
type BandParameters = Record<`band${BandNumber}${'Hz' | 'Db' | 'Q'}`, Parameter>;

const bands = Object.fromEntries(
  bandHz.flatMap((hz, i) => [
    [`band${i + 1}Hz`, log(`Frequency ${i + 1}`, 'Hz', [20, 20000], hz, 0.1, ['brightness'], bySemitones)],
    [`band${i + 1}Db`, linear(`Gain ${i + 1}`, 'dB', [-24, 24], 0, 0.1, ['brightness'], adding('dB', 48))],
    [`band${i + 1}Q`, log(`Q ${i + 1}`, '', [0.1, 40], 0.71, 0.01, ['brightness'], adding('', 40))],
  ]),
) as BandParameters;

const thresholdDb = linear('Threshold', 'dB', [-60, 0], -18, 0.1, ['loudness'], adding('dB', 60));
const attackSeconds = log('Attack', 's', [0.00002, 0.5], 0.01, 0.00001, ['loudness']);
const releaseSeconds = log('Release', 's', [0.001, 4], 0.12, 0.001, ['loudness']);
const lowCut = (initial: number): Parameter =>
  log('Low cut', 'Hz', [10, 2000], initial, 0.1, ['brightness'], bySemitones);
const highCut = (initial: number): Parameter =>
  log('High cut', 'Hz', [200, 20000], initial, 0.1, ['brightness'], bySemitones);
const feedback = (initial: number): Parameter =>
  linear('Feedback', '%', [-99, 99], initial, 0.1, ['space', 'motion'], adding('%', 198));
const rateHz = (initial: number): Parameter => log('Rate', 'Hz', [0.01, 20], initial, 0.01, ['motion'], byOctaves);
const apartCycles = (initial: number): Parameter =>
  linear('Sides apart', 'cycles', [0, 0.5], initial, 0.01, ['width', 'motion'], adding('cycles', 0.5));
const toneHz = (initial: number): Parameter =>
  log('Frequency', 'Hz', [0.1, 12000], initial, 0.1, ['partials', 'motion'], bySemitones);
const semitones = linear('Semitones', 'st', [-24, 24], 0, 0.01, ['pitch', 'partials'], adding('st', 48));
const monoBelowHz = log('Mono below', 'Hz', [10, 5000], 10, 0.1, ['width']);

type BandName = 'low' | 'mid' | 'high';
type CompressedBand = Record<`${BandName}${'DownDb' | 'DownRatio' | 'UpDb' | 'UpRatio' | 'OutDb'}`, Parameter>;

const loud = ['loudness', 'brightness'] as const;
const compressedBands = Object.fromEntries(
  (['low', 'mid', 'high'] as const).flatMap((band) => {
    const name = band[0].toUpperCase() + band.slice(1);
    return [
      [`${band}DownDb`, linear(`${name}, down from`, 'dB', [-60, 0], -24, 0.1, loud, adding('dB', 60))],
      [`${band}DownRatio`, log(`${name}, ratio down`, '', [1, 100], 4, 0.1, loud)],
      [`${band}UpDb`, linear(`${name}, up to`, 'dB', [-80, 0], -40, 0.1, loud, adding('dB', 80))],
      [`${band}UpRatio`, log(`${name}, ratio up`, '', [1, 20], 2, 0.1, loud)],
      [`${band}OutDb`, linear(`${name}, output`, 'dB', [-36, 24], 0, 0.1, loud, adding('dB', 60))],
    ];
  }),
) as CompressedBand;

/** Every kind of effect of a chain. */
export const effectParameters = {
  equalizer: { ...bands, outputDb, mix: wet() },
  drive: {
    ...shaperParameters,
    mix: wet(),
    toneHz: log('Its filter', 'Hz', [20, 20000], 20000, 0.1, ['brightness'], bySemitones),
  },
  reducer: {
    bits: linear('Bits', '', [1, 24], 8, 0.01, ['dirt'], adding('', 24)),
    rateHz: log('Holds at', 'Hz', [100, 96000], 96000, 1, ['dirt', 'brightness'], bySemitones),
    jitter: share('Jitter', 0, ['dirt', 'noise']),
    toneHz: log('Its filter', 'Hz', [20, 20000], 20000, 0.1, ['brightness'], bySemitones),
    mix: wet(),
    outputDb,
  },
  compressor: {
    thresholdDb,
    ratio: log('Ratio', '', [1, 100], 4, 0.1, ['loudness'], adding('', 100)),
    kneeDb: linear('Knee', 'dB', [0, 36], 6, 0.1, ['loudness']),
    attackSeconds,
    releaseSeconds,
    keyLowCutHz: { ...lowCut(10), label: 'Low cut of the key', moves: ['loudness'] },
    makeUpDb: linear('Make-up', 'dB', [-24, 36], 0, 0.1, ['loudness'], adding('dB', 60)),
    mix: wet(),
  },
  multiband: {
    lowHz: log('Low and mid part at', 'Hz', [40, 1000], 160, 0.1, loud),
    highHz: log('Mid and high part at', 'Hz', [1000, 12000], 2500, 0.1, loud),
    amount: share('Amount', 100, ['loudness']),
    timeScale: log('Times', '%', [10, 1000], 100, 1, ['loudness']),
    ...compressedBands,
    mix: wet(),
    outputDb,
  },
  limiter: {
    driveDb: linear('Into it', 'dB', [-12, 36], 0, 0.1, ['loudness', 'dirt'], adding('dB', 48)),
    ceilingDb: linear('Ceiling', 'dB', [-24, 0], -1, 0.1, ['loudness']),
    releaseSeconds: { ...releaseSeconds, default: 0.08 },
    mix: wet(),
  },
  chorus: {
    voices: linear('Voices', '', [1, 8], 3, 1, ['unison', 'width']),
    delaySeconds: log('Delay', 's', [0.0005, 0.05], 0.012, 0.0001, ['width', 'motion']),
    rateHz: rateHz(0.5),
    depthSeconds: log('Depth', 's', [0, 0.02], 0.003, 0.00001, ['motion', 'unison'], adding('s', 0.02)),
    feedback: feedback(0),
    lowCutHz: lowCut(120),
    width: share('Width', 100, ['width']),
    mix: wet(50),
    outputDb,
  },
  delay: {
    leftSeconds: log('Left', 's', [0.0001, 4], 0.375, 0.0001, ['space'], adding('s', 4)),
    rightSeconds: log('Right', 's', [0.0001, 4], 0.375, 0.0001, ['space'], adding('s', 4)),
    feedback: feedback(40),
    crossFeedback: { ...feedback(0), label: 'Across' },
    lowCutHz: lowCut(10),
    highCutHz: highCut(20000),
    driveDb: linear('Drive in the loop', 'dB', [0, 36], 0, 0.1, ['dirt'], adding('dB', 36)),
    monoBelowHz,
    mix: wet(30),
    outputDb,
  },
  reverb: {
    rt60Seconds: log('RT60', 's', [0.1, 30], 1.8, 0.01, ['space'], adding('s', 30)),
    size: linear('Size', '%', [10, 200], 100, 1, ['space']),
    preDelaySeconds: log('Pre-delay', 's', [0, 0.3], 0.01, 0.001, ['space']),
    damping: share('Damping', 30, ['space', 'brightness']),
    diffusion: share('Diffusion', 70, ['space']),
    lowCutHz: lowCut(80),
    highCutHz: highCut(12000),
    modulation: share('Modulation', 15, ['motion']),
    width: share('Width', 100, ['width']),
    mix: wet(25),
    outputDb,
  },
  tremolo: {
    rateHz: log('Rate', 'Hz', [0.01, 40], 4, 0.01, ['motion'], byOctaves),
    depth: share('Depth', 50, ['motion', 'loudness']),
    apartCycles: apartCycles(0),
    mix: wet(),
    outputDb,
  },
  flanger: {
    delaySeconds: log('Delay', 's', [0.0001, 0.01], 0.001, 0.00001, ['motion', 'brightness'], adding('s', 0.01)),
    depthSeconds: log('Depth', 's', [0, 0.01], 0.003, 0.00001, ['motion'], adding('s', 0.01)),
    rateHz: rateHz(0.15),
    feedback: feedback(50),
    apartCycles: apartCycles(0.25),
    mix: wet(50),
    outputDb,
  },
  phasing: {
    stages: linear('Stages', '', [2, 24], 6, 2, ['motion', 'brightness']),
    centreHz: log('Centre', 'Hz', [20, 20000], 900, 0.1, ['motion', 'brightness'], bySemitones),
    spreadOctaves: linear('Spread', 'octaves', [0, 8], 1, 0.01, ['brightness'], adding('octaves', 8)),
    feedback: feedback(30),
    rateHz: rateHz(0.2),
    depthOctaves: linear('Depth', 'octaves', [0, 6], 2, 0.01, ['motion'], adding('octaves', 6)),
    apartCycles: apartCycles(0.15),
    mix: wet(50),
    outputDb,
  },
  widener: {
    detuneCents: linear('Detune', 'ct', [0, 50], 8, 0.1, ['width', 'unison'], adding('ct', 50)),
    crossSeconds: log('Across after', 's', [0.02, 0.06], 0.024, 0.0001, ['width'], adding('s', 0.04)),
    monoBelowHz: { ...monoBelowHz, default: 120 },
    mix: wet(60),
    outputDb,
  },
  ringModulator: {
    toneHz: toneHz(180),
    ratio: log('Ratio to the note', '', [0.125, 16], 1.5, 0.001, ['partials'], adding('', 16)),
    mix: wet(),
    outputDb,
  },
  frequencyShifter: {
    shiftHz: linear('Shift', 'Hz', [-2000, 2000], 5, 0.1, ['partials', 'pitch', 'motion'], adding('Hz', 4000)),
    feedback: { ...share('Feedback', 0, ['space', 'motion']), max: 95 },
    mix: wet(),
    outputDb,
  },
  pitchShifter: {
    semitones: { ...semitones, default: 12 },
    apartCents: linear('Sides apart', 'ct', [0, 50], 0, 0.1, ['width', 'unison'], adding('ct', 50)),
    windowSeconds: log('Window', 's', [0.01, 0.2], 0.06, 0.001, ['pitch']),
    feedback: { ...share('Feedback', 0, ['space']), max: 95 },
    mix: wet(50),
    outputDb,
  },
  vocoder: {
    bands: linear('Bands', '', [8, 64], 24, 1, ['brightness', 'partials']),
    formantSemitones: linear('Shift of the bands', 'st', [-24, 24], 0, 0.1, ['brightness'], adding('st', 48)),
    tiltDbPerOctave: linear('Tilt', 'dB/oct', [-6, 6], 0, 0.1, ['brightness'], adding('dB/oct', 12)),
    attackSeconds: { ...attackSeconds, default: 0.004 },
    releaseSeconds: { ...releaseSeconds, default: 0.05 },
    noise: share('Noise as carrier', 0, ['noise']),
    mix: wet(),
    outputDb,
  },
  vowelFilter: {
    vowel: share('Vowel, a e i o u', 0, ['partials', 'brightness']),
    shiftSemitones: linear('Formant shift', 'st', [-24, 24], 0, 0.1, ['brightness'], adding('st', 48)),
    resonanceDb: linear('Resonance', 'dB', [0, 36], 18, 0.1, ['partials'], adding('dB', 36)),
    mix: wet(),
    outputDb,
  },
  resonator: {
    toneHz: { ...toneHz(220), min: 16 },
    semitones: { ...semitones, label: 'From the pitch' },
    decaySeconds: log('Decay', 's', [0.01, 20], 0.8, 0.01, ['space', 'partials'], adding('s', 20)),
    damping: share('Damping', 30, ['brightness']),
    mix: wet(40),
    outputDb,
  },
  grainDelay: {
    timeSeconds: log('Time', 's', [0.01, 2], 0.25, 0.001, ['space'], adding('s', 2)),
    sizeSeconds: log('Size of a grain', 's', [0.005, 0.5], 0.08, 0.001, ['space', 'noise']),
    density: log('At a time', '', [0.5, 12], 3, 0.1, ['space'], adding('', 12)),
    spraySeconds: log('Spray', 's', [0, 1], 0.05, 0.001, ['space', 'noise'], adding('s', 1)),
    semitones,
    randomSemitones: linear('Random pitch', 'st', [0, 24], 0, 0.01, ['pitch'], adding('st', 24)),
    feedback: { ...share('Feedback', 0, ['space']), max: 95 },
    width: share('Width', 60, ['width']),
    mix: wet(40),
    outputDb,
  },
  ducker: {
    depthDb: linear('Depth', 'dB', [0, 60], 18, 0.1, ['motion', 'loudness'], adding('dB', 60)),
    releaseSeconds: { ...releaseSeconds, default: 0.22 },
    bend: linear('Bend', '%', [-100, 100], 0, 1, ['motion'], adding('%', 200)),
    thresholdDb: { ...thresholdDb, default: -36, label: 'Strokes over' },
    belowHz: log('Only below', 'Hz', [40, 20000], 20000, 0.1, ['brightness', 'motion'], bySemitones),
    mix: wet(),
  },
  cabinet: {
    driveDb: linear('Drive', 'dB', [0, 36], 6, 0.1, ['dirt', 'partials'], adding('dB', 36)),
    bodyDb: linear('Body', 'dB', [-12, 12], 0, 0.1, ['brightness'], adding('dB', 24)),
    presenceDb: linear('Presence', 'dB', [-12, 12], 0, 0.1, ['brightness'], adding('dB', 24)),
    mix: wet(),
    outputDb,
  },
  stereo: {
    gainDb: level('Gain', ['loudness']),
    pan: pan('Pan'),
    width: linear('Width', '%', [0, 200], 100, 0.1, ['width'], adding('%', 200)),
    monoBelowHz,
    mix: wet(),
  },
} as const satisfies Record<string, Record<string, Parameter>>;
