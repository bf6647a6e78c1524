import type { TraitDescriptor } from '../descriptor';
import { SURE, several } from '../doubts';
import { peakOf } from '../../evidenceSounds';
import { toMono } from '../../audio';
import { findSlowFilter } from '../../movement/slowFilter';

const TICK_SECONDS = 0.004;
const TICK_HZ = 2400;

export const motion = {
  measure(material) {
    const found = material.movement?.motion ?? [];
    const slow = found.some(({ of }) => of === 'brightness') ? undefined : findSlowFilter(material);
    return slow ? [...found, slow] : found;
  },

  doubt: (reading) => {
    if (reading.traits.motion.some(({ confidence }) => confidence < SURE))
      return 'few turns were seen, or another cause explains nearly as much';
    return several(reading) ? 'movements are told from one note at a time' : undefined;
  },

  evidence: {
    motion(audio, { traits: { motion } }) {
      if (motion.length === 0) return undefined;
      const { rateHz } = motion.reduce((a, b) => (b.confidence > a.confidence ? b : a));
      const mono = toMono(audio);
      const peak = peakOf([mono]);
      // A tick of some milliseconds at every turn, over the cut.
      return [
        mono.map((x, i) => {
          const turns = (i / audio.sampleRateHz) * rateHz;
          const since = (turns - Math.floor(turns)) / rateHz;
          return x + peak * Math.exp(-since / TICK_SECONDS) * Math.sin(2 * Math.PI * TICK_HZ * since);
        }),
      ];
    },
  },
} satisfies TraitDescriptor<'motion'>;
