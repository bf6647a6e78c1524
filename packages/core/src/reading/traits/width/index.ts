import { measureWidth } from '../../space/width';
import { findWidthCause } from '../../space/widthCause';
import type { TraitDescriptor } from '../descriptor';

export const width = {
  measure({ audio, fundamental, f0At, movement, fromSeconds, toSeconds }) {
    const width = measureWidth(audio, fromSeconds, toSeconds);
    if (!fundamental || !f0At || !movement) return width;
    const told = findWidthCause({ audio, f0Hz: fundamental.f0Hz, f0At, fromSeconds, toSeconds, ...movement });
    return told ? { ...width, cause: told.cause, delaySeconds: told.delaySeconds ?? null } : width;
  },

  doubt: (reading) => (reading.channels === 1 ? undefined : 'the cut is too short for its low bands'),

  evidence: {
    sides({ channels }) {
      if (channels.length < 2) return undefined;
      const side = Float64Array.from(channels[0], (x, i) => (x - channels[1][i]) / 2);
      return [side, side.map((x) => -x)];
    },
  },
} satisfies TraitDescriptor<'width'>;
