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

/** What makes it wide, in terms of what to do. */
const causes: Record<NonNullable<Reading['traits']['width']['cause']>, string> = {
  detune: 'Detuned voices stand on both sides: spread the unison voices',
  delay: 'One side is later than the other: a short delay on one side',
  reverb: 'The room is on both sides: a stereo reverb',
  panning: 'It stands beside the middle: pan the source',
};

export function WidthCard({ reading }: { reading: Reading }) {
  const { correlation, monoBelowHz, cause, delaySeconds, bands, confidence } = reading.traits.width;
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
      doubt={reading.doubts.width}
      evidence={reading.channels === 1 ? undefined : { wanted: { kind: 'sides' }, label: 'The sides' }}
      headline={headline}
      meaning={
        widest <= NARROW_DB
          ? 'Keep every source in the middle, without stereo spread.'
          : `${cause === null ? 'Spread the unison voices or pan the sources' : causes[cause]}${
              monoBelowHz === null
                ? ', the lowest ones too.'
                : ` over ${formatValue(monoBelowHz, 'Hz')}; keep the rest in the middle.`
            }`
      }
      values={[
        { label: 'Left against right', value: correlation === null ? null : correlation.toFixed(2) },
        { label: 'It comes from', value: cause },
        {
          label: 'Side delay',
          value: delaySeconds === null ? null : formatValue(Math.abs(delaySeconds), 's'),
        },
        { label: 'Mono below', value: monoBelowHz === null ? null : formatValue(monoBelowHz, 'Hz') },
      ]}
    >
      <Chart className="h-full min-h-[108px]" option={option} label="Sides against the middle, by frequency" />
    </TraitCard>
  );
}
