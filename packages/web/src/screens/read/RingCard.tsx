import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';
import { show } from './show';

export function RingCard({ reading }: { reading: Reading }) {
  const { rateHz, kind, sidebandsDb, confidence } = reading.traits.ring;
  return (
    <TraitCard
      title="Ring and AM"
      confidence={confidence}
      doubt={reading.doubts.ring}
      headline={
        rateHz === null ? 'none' : `${kind === 'ring' ? 'rung' : 'level moved'} at ${formatValue(rateHz, 'Hz')}`
      }
      meaning={
        rateHz === null
          ? 'No sidebands stand at one distance from every partial.'
          : kind === 'ring'
            ? 'Only sidebands are left, in pairs beside where partials would be: a ring modulator, all wet.'
            : 'Every partial has a pair of sidebands: a level moved this fast, or a ring modulator mixed in.'
      }
      values={[
        { label: 'Rate', value: show(rateHz, 'Hz') },
        ...(sidebandsDb === null ? [] : [{ label: 'Sidebands', value: `${sidebandsDb.toFixed(1)} dB` }]),
      ]}
    />
  );
}
