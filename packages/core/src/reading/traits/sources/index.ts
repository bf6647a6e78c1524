import { rounded } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, OVERLAP, several } from '../doubts';
import { overlap } from '../../notes/overlap';

/** A sum that leaves so much explains nothing. */
const USELESS_DB = 6;

export const sources = {
  measure({ root, sources: fitted, fundamental, movement }) {
    // Over all its widths a pulse looks like a saw.
    const round = movement?.motion.find(({ cause }) => cause === 'pulseWidth');
    if (round && round.middle !== null) {
      const pulse = { shape: 'pulse' as const, pulseWidth: rounded(round.middle / 100, 2), semitones: 0, levelDb: 0 };
      return { parts: [pulse], errorDb: null, confidence: round.confidence };
    }
    if (!fitted || !root || !fundamental || fitted.errorDb > USELESS_DB)
      return { parts: [], errorDb: fitted ? rounded(fitted.errorDb, 3) : null, confidence: 0 };
    const parts = fitted.parts.map(({ shape, pulseWidth, multiple, levelDb }) => ({
      shape,
      pulseWidth: pulseWidth === null ? null : rounded(pulseWidth, 2),
      semitones: rounded(12 * Math.log2((multiple * fitted.lowestHz) / root.hz), 4),
      levelDb: Number(levelDb.toFixed(2)),
    }));
    return {
      parts,
      errorDb: rounded(fitted.errorDb, 3),
      confidence: Math.max(0, Math.min(1, fundamental.confidence * (1 - fitted.errorDb / USELESS_DB))),
    };
  },

  doubt: (reading) => {
    if (reading.traits.pitch.f0Hz === null) return NO_PITCH;
    if (overlap(reading)) return OVERLAP;
    if (several(reading)) return 'sources are told from one note at a time';
    return 'no sum of plain waveforms behind a low-pass has these partials';
  },

  evidence: {},
} satisfies TraitDescriptor<'sources'>;
