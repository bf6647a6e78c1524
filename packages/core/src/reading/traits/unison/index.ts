import { rounded } from '../../documentParts';
import { noUnison } from '../../movement/unison';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, several } from '../doubts';

export const unison = {
  measure({ movement, root }) {
    const voices = movement?.unison ?? noUnison;
    // The beat is that of the note's own fundamental, which over a sub is not that of the whole.
    const { beatHz } = voices;
    return { ...voices, beatHz: beatHz === null ? null : rounded(beatHz * (root?.multiple ?? 1), 5) };
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (several(reading)) return 'voices are told from one note at a time';
    const { voices, detuneCents } = reading.traits.unison;
    if (detuneCents !== null && voices === null)
      return 'the voices lie closer than the length of the note can tell apart';
    return 'too few partials, or too short a note';
  },

  evidence: {},
} satisfies TraitDescriptor<'unison'>;
