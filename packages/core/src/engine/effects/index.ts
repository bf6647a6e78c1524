import type { EffectKind } from '../../parameters/effects';
import { chorus } from './chorus';
import { compressor } from './compressor';
import { delay } from './delay';
import { drive } from './drive';
import type { EffectModel, EffectOf } from './effect';
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

/** How every kind of effect sounds: a file and a line here for each descriptor. */
const effectModels = {
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
} satisfies { readonly [K in EffectKind]: EffectModel<EffectOf<K>> };

/** The model of a kind, told nothing of which. */
export const modelOf = (kind: EffectKind): EffectModel => effectModels[kind];
