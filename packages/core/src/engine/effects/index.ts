import type { EffectKind } from '../../patch/schema';
import { chorus } from './chorus';
import { compressor } from './compressor';
import { delay } from './delay';
import { drive } from './drive';
import type { EffectModel } from './effect';
import { equalizer } from './equalizer';
import { limiter } from './limiter';
import { reverb } from './reverb';
import { stereo } from './stereo';

/** Every kind of effect. A new one is a file and a line here, besides its entries in the parameter table and the schema. */
export const effectModels = {
  equalizer,
  drive,
  compressor,
  limiter,
  chorus,
  delay,
  reverb,
  stereo,
} as unknown as Record<EffectKind, EffectModel>;
