import { rounded } from '../../documentParts';
import { findFormants, moves } from '../../spectra/formants';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, several } from '../doubts';

export const formants = {
  measure({ partials, fundamental, sources, sidebands, movement, notes, fromSeconds, toSeconds }) {
    if (!partials || !fundamental || notes.length !== 1 || sidebands.fm || sidebands.ring || movement?.inharmonicity)
      return { peaks: [], confidence: 0 };
    const peaks = findFormants(partials, sources, fromSeconds, toSeconds);
    return {
      peaks: peaks.map(({ fromHz, toHz, prominenceDb }) => ({
        fromHz: rounded(fromHz, 4),
        toHz: rounded(toHz, 4),
        prominenceDb: rounded(prominenceDb, 3),
      })),
      confidence: fundamental.confidence * (peaks.some(moves) ? 0.85 : 0.6),
    };
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (several(reading)) return 'resonances are told from one note at a time';
    return 'of one note a source with humps sounds the same as resonances';
  },

  evidence: {},
} satisfies TraitDescriptor<'formants'>;
