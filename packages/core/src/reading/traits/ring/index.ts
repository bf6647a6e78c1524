import { rounded } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';

export const ring = {
  measure({ sidebands: { ring: pair }, notes }) {
    if (!pair) return { rateHz: null, kind: null, sidebandsDb: null, confidence: notes.length === 1 ? 0.6 : 0 };
    return {
      rateHz: rounded(pair.rateHz, 6),
      kind: pair.sidebandsDb === null ? ('ring' as const) : ('am' as const),
      sidebandsDb: pair.sidebandsDb === null ? null : rounded(pair.sidebandsDb, 3),
      confidence: Math.min(0.95, pair.explained),
    };
  },

  doubt: (reading) => {
    if (several(reading)) return 'sidebands are told from one note at a time';
    return reading.traits.ring.rateHz === null ? undefined : 'some lines stand beside the sidebands of this rate';
  },

  evidence: {},
} satisfies TraitDescriptor<'ring'>;
