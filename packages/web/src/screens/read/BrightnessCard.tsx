import { useCallback } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { seriesPoints } from '../../drawing/seriesPoints';
import { TraitCard } from './TraitCard';
import { show } from './show';

export function BrightnessCard({ reading }: { reading: Reading }) {
  const { centroidHz, cutoffHz, slopeDbPerOctave, resonanceDb, highpassHz, sweep, contour, cutoffContour, confidence } =
    reading.traits.brightness;
  const option = useCallback(
    (inks: Inks) =>
      curvesOption(
        {
          reference: seriesPoints(contour),
          fitted: seriesPoints(cutoffContour),
          x: { unit: 's', min: 0, max: reading.durationSeconds },
          y: { unit: 'Hz', log: true, min: 50, max: 20000 },
        },
        inks,
      ),
    [contour, cutoffContour, reading.durationSeconds],
  );
  return (
    <TraitCard
      title="Brightness"
      confidence={confidence}
      doubt={reading.doubts.brightness}
      evidence={{ wanted: { kind: 'brightness' }, label: 'On noise' }}
      headline={centroidHz === null ? 'nothing to measure' : `centroid ${formatValue(centroidHz, 'Hz')}`}
      meaning={meaningOf(reading.traits)}
      values={[
        { label: 'Cutoff, middle', value: show(cutoffHz, 'Hz'), overrule: 'cutoffHz' },
        { label: 'Slope', value: slopeDbPerOctave === null ? null : `${slopeDbPerOctave} dB/oct` },
        { label: 'Resonance', value: show(resonanceDb, 'dB'), overrule: 'resonanceDb' },
        { label: 'High-pass', value: show(highpassHz, 'Hz') },
        { label: 'From', value: sweep ? show(sweep.fromHz, 'Hz') : null },
        { label: 'To', value: sweep ? show(sweep.toHz, 'Hz') : null },
      ]}
    >
      <Chart
        className="h-full min-h-[108px]"
        option={option}
        label="Spectral centroid over time, with the explaining cutoff dashed"
      />
    </TraitCard>
  );
}

/** A resonance under this is not heard as one. */
const HEARD_RESONANCE_DB = 2;

function meaningOf({ brightness, motion }: Pick<Reading['traits'], 'brightness' | 'motion'>): string {
  const { cutoffHz, slopeDbPerOctave, resonanceDb, highpassHz, highpassSlopeDbPerOctave, notch, sweep } = brightness;
  if (cutoffHz === null) return 'Without a pitch no filter can be told from the source.';
  const ringing = (resonanceDb ?? 0) > HEARD_RESONANCE_DB ? ` with ${show(resonanceDb, 'dB')} of resonance` : '';
  const filter = `${slopeDbPerOctave} dB low-pass${ringing}`;
  const direction = sweep && sweep.toHz > sweep.fromHz ? 'rising' : 'falling';
  const turning = motion.find(({ of, cause }) => of === 'brightness' && cause === 'filter');
  return [
    turning
      ? `A ${filter} going round ${show(turning.middle ?? cutoffHz, 'Hz')}, ${Number(turning.rateHz.toPrecision(3))} times a second.`
      : sweep
        ? `A ${filter} ${direction} from ${show(sweep.fromHz, 'Hz')} to ${show(sweep.toHz, 'Hz')} in ${show(sweep.seconds, 's')}.`
        : `It sounds like a ${filter} standing at ${show(cutoffHz, 'Hz')}.`,
    highpassHz !== null && `A ${highpassSlopeDbPerOctave} dB high-pass at ${show(highpassHz, 'Hz')} takes the lows.`,
    notch && `A notch goes from ${show(notch.fromHz, 'Hz')} to ${show(notch.toHz, 'Hz')}.`,
  ]
    .filter(Boolean)
    .join(' ');
}
