import { rounded } from '../../documentParts';
import { findFormants } from '../../spectra/formants';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, several } from '../doubts';

/** Peaks that move under a pitch that does not are no source's own. */
const MOVED_OCTAVES = 0.25;

export const formants = {
  measure({ partials, fundamental, sources, sidebands, movement, notes, fromSeconds, toSeconds }) {
    if (!partials || !fundamental || notes.length !== 1 || sidebands.fm || sidebands.ring || movement?.inharmonicity)
      return { peaks: [], confidence: 0 };
    const peaks = findFormants(partials, sources, fromSeconds, toSeconds);
    const moves = peaks.some(({ fromHz, toHz }) => Math.abs(Math.log2(toHz / fromHz)) > MOVED_OCTAVES);
    return {
      peaks: peaks.map(({ fromHz, toHz, prominenceDb }) => ({
        fromHz: rounded(fromHz, 4),
        toHz: rounded(toHz, 4),
        prominenceDb: rounded(prominenceDb, 3),
      })),
      confidence: fundamental.confidence * (moves ? 0.85 : 0.6),
    };
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (several(reading)) return 'resonances are told from one note at a time';
    return 'of one note a source with humps sounds the same as resonances';
  },

  evidence: {},
} satisfies TraitDescriptor<'formants'>;
