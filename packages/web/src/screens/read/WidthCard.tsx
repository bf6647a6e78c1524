import { useCallback } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { TraitCard } from './TraitCard';

/** Sides from this level against the middle on are heard as wide. */
const WIDE_DB = -12;
const NARROW_DB = -30;

export function WidthCard({ reading }: { reading: Reading }) {
  const { correlation, monoBelowHz, bands, confidence } = reading.traits.width;
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: bands.map(({ fromHz, toHz, widthDb }) => [
            Math.sqrt(fromHz * toHz),
            Math.max(-60, Math.min(0, widthDb)),
          ]),
          x: { unit: 'Hz', log: true, min: 30, max: 16000 },
          y: { unit: 'dB', min: -60, max: 0 },
        },
        inks,
      ),
    [bands],
  );
  const widest = bands.length > 0 ? Math.max(...bands.map(({ widthDb }) => widthDb)) : -Infinity;
  const headline =
    reading.channels === 1
      ? 'one channel'
      : widest > WIDE_DB
        ? `wide, sides up to ${formatValue(widest, 'dB')}`
        : widest > NARROW_DB
          ? 'narrow'
          : 'in the middle';
  return (
    <TraitCard
      title="Width"
      confidence={confidence}
      headline={headline}
      meaning={
        widest <= NARROW_DB
          ? 'Keep every source in the middle, without stereo spread.'
          : monoBelowHz === null
            ? 'Spread the unison voices or pan the sources, the lowest ones too.'
            : `Spread what is over ${formatValue(monoBelowHz, 'Hz')}; keep the rest in the middle.`
      }
      values={[
        { label: 'Left against right', value: correlation === null ? null : correlation.toFixed(2) },
        { label: 'Mono below', value: monoBelowHz === null ? null : formatValue(monoBelowHz, 'Hz') },
      ]}
    >
      <Chart className="h-full min-h-[130px]" option={option} label="Sides against the middle, by frequency" />
    </TraitCard>
  );
}
