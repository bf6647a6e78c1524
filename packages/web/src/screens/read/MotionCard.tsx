import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { causeInWords } from '@imprint/core/reading/traits/motion/causes';
import { TraitCard } from './TraitCard';

type Motion = Reading['traits']['motion'][number];

/** What makes a movement, in terms of what to set. */
const meanings: Record<Motion['cause'], string> = {
  vibrato: 'an LFO to pitch',
  tremolo: 'an LFO to level: all partials move together',
  ducking: 'a level that gives way on the beat and comes back',
  filter: 'an LFO to cutoff: an edge moves over the partials',
  notch: 'an LFO to a notch: one gap moves over the partials',
  phaser: 'a phaser: a few notches move over the partials',
  chorus: 'a chorus or flanger: a comb moves over the partials',
  pulseWidth: 'an LFO to the width of a pulse: partials come and go by turns',
  beating: 'two detuned voices: partial n beats n times as fast',
};

export function MotionCard({ reading }: { reading: Reading }) {
  const { motion } = reading.traits;
  return (
    <TraitCard
      title="Motion"
      confidence={Math.max(0, ...motion.map(({ confidence }) => confidence))}
      doubt={reading.doubts.motion}
      evidence={motion.length === 0 ? undefined : { wanted: { kind: 'motion' }, label: 'With its ticks' }}
      headline={motion.length === 0 ? 'nothing comes round' : motion.map(({ cause }) => causeInWords(cause)).join(', ')}
      meaning={
        motion.length === 0
          ? 'Movements are told from one held note, over two or three turns of them.'
          : `${motion.map(({ cause }) => meanings[cause]).join('; ')}.`
      }
      values={motion.flatMap(({ cause, rateHz, division, depth, unit, middle }) => [
        {
          label: `Rate of ${causeInWords(cause)}`,
          value: `${formatValue(rateHz, 'Hz')}${division ? `, ${division}` : ''}`,
        },
        { label: `Depth of ${causeInWords(cause)}`, value: depthWords(depth, unit) },
        ...(middle === null
          ? []
          : [
              {
                label: unit === 'dB' ? 'Only below' : `Middle of ${causeInWords(cause)}`,
                value: middleWords(middle, unit),
              },
            ]),
      ])}
    />
  );
}

function depthWords(depth: number, unit: Motion['unit']): string {
  if (unit === 'octaves') return `${depth.toFixed(2)} octaves`;
  if (unit === '%') return `${depth.toFixed(0)} % of a period`;
  if (unit === 'ms') return `${depth.toFixed(1)} ms`;
  return unit === 'cents' ? `±${depth.toFixed(0)} ct` : `${depth.toFixed(1)} dB`;
}

/** What a movement goes round, or under what: frequencies where its depth is in octaves or dB. */
const middleWords = (middle: number, unit: Motion['unit']): string =>
  unit === 'octaves' || unit === 'dB' ? formatValue(middle, 'Hz') : depthWords(middle, unit);
