import { brightness } from './brightness';
import { dirt } from './dirt';
import { loudness } from './loudness';
import { motion } from './motion';
import { noise } from './noise';
import { partials } from './partials';
import { pitch } from './pitch';
import { space } from './space';
import { sources } from './sources';
import { fm } from './fm';
import { ring } from './ring';
import { formants } from './formants';
import { unison } from './unison';
import { width } from './width';
import type { TraitId } from '../../reading/schema';
import type { ComparedTrait } from './comparedTrait';

/** What is compared of every trait, with its JNDs and its advice. */
export const comparedTraits = {
  pitch,
  loudness,
  brightness,
  partials,
  sources,
  fm,
  ring,
  formants,
  noise,
  unison,
  width,
  motion,
  space,
  dirt,
} satisfies { readonly [T in TraitId]: readonly ComparedTrait[] };

/** All of it, each with the trait that it is of. */
export const everyComparison: readonly (ComparedTrait & { group: TraitId })[] = (
  Object.keys(comparedTraits) as TraitId[]
).flatMap((group) => comparedTraits[group].map((compared) => ({ ...compared, group })));
