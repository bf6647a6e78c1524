import type { TraitDescriptor } from '../descriptor';
import { SURE, several } from '../doubts';
import { peakOf } from '../../evidenceSounds';
import { toMono } from '../../audio';
import type { Material } from '../../material';
import { motion as toldMotion } from '../../movement/motion';
import { findSlowTurn } from '../../movement/slowTurn';
import { steadyOctaves } from '../../spectra/steadyCutoff';

const TICK_SECONDS = 0.004;
const TICK_HZ = 2400;

/** A sine of the cutoff explains at least so much of what it does, and is at least so deep, octaves. */
const LEAST_EXPLAINED = 0.75;
const LEAST_DEPTH = 0.3;
/** One turn is more often an envelope's than four are. */
const SLOW_SURE = 0.6;

/** A filter that goes round too slowly to be seen to come round. */
function slowFilter({ filter, partials, movement, fitted, piece, fromSeconds, toSeconds }: Material) {
  if (!filter || !movement) return undefined;
  const { onsetSeconds } = fitted;
  const octaves = steadyOctaves(filter, partials, onsetSeconds + (movement.space.echo?.seconds ?? Infinity));
  const within = octaves.map((octave, t) =>
    filter.seconds[t] > fromSeconds && filter.seconds[t] < toSeconds ? octave : NaN,
  );
  const turn = findSlowTurn(filter.seconds, within);
  if (!turn || turn.explained < LEAST_EXPLAINED || turn.depth < LEAST_DEPTH) return undefined;
  const { rateHz, depth, middle, startCycles, explained } = turn;
  return toldMotion({ bpm: piece.tempo.bpm, onsetSeconds }, 'brightness', 'filter', {
    rateHz,
    depth: 2 * depth,
    unit: 'octaves',
    middle: 2 ** middle,
    startCycles,
    shape: 'sine',
    confidence: SLOW_SURE * explained,
  });
}

export const motion = {
  measure(material) {
    const found = material.movement?.motion ?? [];
    const slow = found.some(({ of }) => of === 'brightness') ? undefined : slowFilter(material);
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
