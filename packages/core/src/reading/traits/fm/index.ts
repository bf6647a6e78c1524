import { rounded, toSeries } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';

const nothing = { carrierHz: null, ratio: null, index: { hopSeconds: 0.01, values: [] }, feedback: null };
const LEAST_CONFIDENCE = 0.5;

export const fm = {
  measure({ sidebands: { fm: pair }, notes }) {
    if (!pair) return { ...nothing, confidence: notes.length === 1 ? 0.6 : 0 };
    const [first, second] = pair.index;
    const hopSeconds = second ? second.seconds - first.seconds : first.seconds || 0.01;
    // A series begins with the cut: what was before the first frame is not known.
    const lead = Math.round(first.seconds / hopSeconds);
    const values = [...new Array<number>(lead).fill(NaN), ...pair.index.map(({ radians }) => radians)];
    return {
      carrierHz: rounded(pair.carrierHz, 7),
      ratio: rounded(pair.ratio, 5),
      index: toSeries(hopSeconds, values),
      feedback: rounded(pair.feedback, 3),
      confidence: Math.max(LEAST_CONFIDENCE, 1 - 8 * pair.unexplained),
    };
  },

  doubt: (reading) => {
    if (several(reading)) return 'sidebands are told from one note at a time';
    return reading.traits.fm.carrierHz === null
      ? undefined
      : 'another carrier with the same lines explains them nearly as well';
  },

  evidence: {},
} satisfies TraitDescriptor<'fm'>;
