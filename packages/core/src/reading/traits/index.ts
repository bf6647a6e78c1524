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
import type { Reading, TraitId } from '../schema';
import type { DoubtedReading, TraitDescriptor } from './descriptor';
import type { Material } from '../material';
import { SURE } from './doubts';

/**
 * Every trait, in the order of work. A new one is a folder, a line here and one in the schema; the compiler
 * asks for the rest.
 */
export const traits = {
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
} satisfies { readonly [T in TraitId]: TraitDescriptor<T> };

export const traitIds = Object.keys(traits) as TraitId[];

// A trait and what is read of it, which the compiler can only follow by a type of their own.
const measures: { readonly [T in TraitId]: Pick<TraitDescriptor<T>, 'measure'> } = traits;
const measureBy = <T extends TraitId>(id: T, material: Material) => measures[id].measure(material);

/** Measures every trait. */
export const measureTraits = (material: Material): Reading['traits'] =>
  Object.fromEntries(traitIds.map((id) => [id, measureBy(id, material)])) as Reading['traits'];

/** Why what was read of a trait is not sure; nothing where it is. */
export function doubtsOf(reading: DoubtedReading): Reading['doubts'] {
  const doubts: Reading['doubts'] = {};
  for (const id of traitIds) {
    const { [id]: trait } = reading.traits;
    if (!Array.isArray(trait) && trait.confidence >= SURE) continue;
    const reason = traits[id].doubt(reading);
    if (reason) doubts[id] = reason;
  }
  return doubts;
}
