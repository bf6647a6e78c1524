import { useCallback } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { TraitCard } from './TraitCard';

/** Partial n beats n times as fast as the fundamental: on this one it is plain to hear. */
const BEATING = 4;

export function UnisonCard({ reading }: { reading: Reading }) {
  const { detuneCents, voices, beatHz, spectrum, confidence } = reading.traits.unison;
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: spectrum.levelsDb.map((db, i) => [spectrum.fromCents + i * spectrum.stepCents, db]),
          x: { unit: 'ct', min: -60, max: 60 },
          y: { unit: 'dB', min: -60, max: 0 },
        },
        inks,
      ),
    [spectrum],
  );
  const spread = detuneCents === null ? null : `${Number(detuneCents.toFixed(1))} ct`;
  return (
    <TraitCard
      title="Unison"
      confidence={confidence}
      doubt={reading.doubts.unison}
      evidence={
        detuneCents === null
          ? undefined
          : { wanted: { kind: 'partial', partial: BEATING }, label: `Partial ${BEATING} beating` }
      }
      headline={
        spread === null
          ? confidence > 0
            ? 'one voice'
            : 'cannot be told'
          : `${voices ?? 'several'} voices over ${spread}`
      }
      meaning={
        spread !== null
          ? `Set ${voices ?? 'some'} unison voices and a detune of ${spread} in all.`
          : confidence > 0
            ? 'No detune is needed: the partials are single lines.'
            : 'Voices are told apart in one held note with three partials or more, a third of a second of it.'
      }
      values={[
        { label: 'Detune, in all', value: spread, overrule: 'detuneCents' },
        { label: 'Voices', value: voices === null ? null : String(voices), overrule: 'voices' },
        { label: 'Slowest beat', value: beatHz === null ? null : formatValue(beatHz, 'Hz') },
      ]}
    >
      {spectrum.levelsDb.length > 0 && (
        <Chart className="h-full min-h-[108px]" option={option} label="Lines around the partials, in cents" />
      )}
    </TraitCard>
  );
}
