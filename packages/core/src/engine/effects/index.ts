import type { EffectKind } from '../../patch/schema';
import { chorus } from './chorus';
import { compressor } from './compressor';
import { delay } from './delay';
import { drive } from './drive';
import type { EffectModel } from './effect';
import { equalizer } from './equalizer';
import { limiter } from './limiter';
import { multiband } from './multiband';
import { reducer } from './reducer';
import { reverb } from './reverb';
import { stereo } from './stereo';
import { cabinet } from './cabinet';
import { ducker } from './ducker';
import { flanger } from './flanger';
import { frequencyShifter } from './frequencyShifter';
import { grainDelay } from './grainDelay';
import { phasing } from './phasing';
import { pitchShifter } from './pitchShifter';
import { resonator } from './resonator';
import { ringModulator } from './ringModulator';
import { vocoder } from './vocoder';
import { vowelFilter } from './vowelFilter';
import { widener } from './widener';
import { tremolo } from './tremolo';

/** Every kind of effect. A new one is a file and a line here, besides its entries in the parameter table and the schema. */
export const effectModels = {
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
  phasing,
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
} as unknown as Record<EffectKind, EffectModel>;
