import type { EffectKind } from '../../parameters/effects';
import { chorus } from './swings/chorus';
import { compressor } from './levels/compressor';
import { delay } from './space/delay';
import { drive } from './colour/drive';
import type { EffectModel, EffectOf } from './chain/effect';
import { equalizer } from './colour/equalizer';
import { limiter } from './levels/limiter';
import { multiband } from './levels/multiband';
import { reducer } from './colour/reducer';
import { reverb } from './space/reverb';
import { stereo } from './levels/stereo';
import { cabinet } from './colour/cabinet';
import { ducker } from './levels/ducker';
import { flanger } from './swings/flanger';
import { frequencyShifter } from './pitch/frequencyShifter';
import { grainDelay } from './space/grainDelay';
import { phaser } from './swings/phaser';
import { pitchShifter } from './pitch/pitchShifter';
import { resonator } from './colour/resonator';
import { ringModulator } from './pitch/ringModulator';
import { vocoder } from './colour/vocoder';
import { vowelFilter } from './colour/vowelFilter';
import { widener } from './space/widener';
import { tremolo } from './levels/tremolo';

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
} satisfies { readonly [K in EffectKind]: EffectModel<EffectOf<K>> };

/** The model of a kind, told nothing of which. */
export const modelOf = (kind: EffectKind): EffectModel => effectModels[kind];
