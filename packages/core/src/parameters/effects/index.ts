import { equalizer } from './equalizer';
import { drive } from './drive';
import { reducer } from './reducer';
import { compressor } from './compressor';
import { multiband } from './multiband';
import { limiter } from './limiter';
import { chorus } from './chorus';
import { delay } from './delay';
import { reverb } from './reverb';
import { tremolo } from './tremolo';
import { flanger } from './flanger';
import { phaser } from './phaser';
import { widener } from './widener';
import { ringModulator } from './ringModulator';
import { frequencyShifter } from './frequencyShifter';
import { pitchShifter } from './pitchShifter';
import { vocoder } from './vocoder';
import { vowelFilter } from './vowelFilter';
import { resonator } from './resonator';
import { grainDelay } from './grainDelay';
import { ducker } from './ducker';
import { cabinet } from './cabinet';
import { stereo } from './stereo';

/**
 * Every kind of effect. A new one is a file and a line here; the compiler then asks for how it sounds, its
 * picture and its evidence.
 */
export const effects = {
  equalizer,
  drive,
  reducer,
  compressor,
  multiband,
  limiter,
  chorus,
  delay,
  reverb,
  tremolo,
  flanger,
  phaser,
  widener,
  ringModulator,
  frequencyShifter,
  pitchShifter,
  vocoder,
  vowelFilter,
  resonator,
  grainDelay,
  ducker,
  cabinet,
  stereo,
} as const;

export type EffectKind = keyof typeof effects;

type ParametersOfEffects = { readonly [K in EffectKind]: (typeof effects)[K]['parameters'] };

/** Parameters by kind of effect. */
export const effectParameters = Object.fromEntries(
  Object.entries(effects).map(([kind, { parameters }]) => [kind, parameters]),
) as ParametersOfEffects;
