import { useCallback } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { TraitCard } from './TraitCard';
import { show } from './show';

/** Highest index on the plot, radians. */
const MOST_INDEX = 7;

export function FmCard({ reading }: { reading: Reading }) {
  const { carrierHz, ratio, index, feedback, confidence } = reading.traits.fm;
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: index.values.flatMap((value, i) => (value === null ? [] : [[i * index.hopSeconds, value]])),
          x: { unit: 's', min: 0, max: reading.durationSeconds },
          y: { unit: '', min: 0, max: MOST_INDEX },
        },
        inks,
      ),
    [index, reading.durationSeconds],
  );
  const known = index.values.filter((value) => value !== null);
  return (
    <TraitCard
      title="FM"
      confidence={confidence}
      doubt={reading.doubts.fm}
      headline={ratio === null ? 'none needed' : `1 to ${ratio.toFixed(3)}`}
      meaning={
        carrierHz === null || ratio === null
          ? 'The lines are the partials of a note.'
          : `A sine at ${formatValue(carrierHz, 'Hz')} whose phase is moved by another at ${ratio.toFixed(3)} times that has these lines.`
      }
      values={[
        { label: 'Carrier', value: show(carrierHz, 'Hz') },
        { label: 'Modulator', value: carrierHz === null || ratio === null ? null : show(carrierHz * ratio, 'Hz') },
        { label: 'Index at first', value: known.length > 0 ? `${known[0].toFixed(2)} rad` : null },
        { label: 'Index at last', value: known.length > 0 ? `${known[known.length - 1].toFixed(2)} rad` : null },
        { label: 'Feedback', value: feedback === null ? null : `${feedback.toFixed(1)} rad` },
      ]}
    >
      {known.length > 1 && <Chart className="h-full min-h-[108px]" option={option} label="Index over time" />}
    </TraitCard>
  );
}
