import { useCallback } from 'react';
import { noteName } from '@imprint/core/dsp/pitch';
import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { seriesPoints } from '../../drawing/seriesPoints';
import { TraitCard } from './TraitCard';

/** Less of a drift is not heard along a note. */
const HEARD_DRIFT_CENTS = 5;

export function PitchCard({ reading }: { reading: Reading }) {
  const { f0Hz, midi, cents, contour, vibrato, sweep, glideSeconds, driftCents, confidence } = reading.traits.pitch;
  const option = useCallback(
    (inks: Inks) => {
      const points = seriesPoints(contour, (hz) => (f0Hz ? 1200 * Math.log2(hz / f0Hz) : hz));
      const inRange = points.map(([x, y]): [number, number | null] => [x, y !== null && Math.abs(y) <= 100 ? y : null]);
      return curvesOption(
        {
          reference: inRange,
          x: { unit: 's', min: 0, max: reading.durationSeconds },
          y: { unit: 'ct', min: -60, max: 60 },
        },
        inks,
      );
    },
    [contour, f0Hz, reading.durationSeconds],
  );
  return (
    <TraitCard
      title="Pitch"
      confidence={confidence}
      doubt={reading.doubts.pitch}
      evidence={f0Hz === null ? undefined : { wanted: { kind: 'pitch' }, label: 'As a sine' }}
      headline={midi === null || cents === null ? 'no pitch found' : `${noteName(midi)} ${formatValue(cents, 'ct')}`}
      meaning={
        f0Hz === null || midi === null || cents === null
          ? 'Nothing in this cut repeats steadily. A cut with one note alone has a pitch.'
          : [
              `Set the octave so that the patch plays ${noteName(midi)}, and Fine to ${formatValue(cents, 'ct')}.`,
              sweep &&
                `It starts ${formatValue(sweep.semitones, 'st')} off and is there after ${formatValue(sweep.seconds, 's')}: an envelope to pitch.`,
              vibrato &&
                `An LFO of ${formatValue(vibrato.rateHz, 'Hz')} moves it by ±${vibrato.depthCents.toFixed(0)} ct.`,
              glideSeconds !== null && `Mono with a glide of ${formatValue(glideSeconds, 's')}.`,
              Math.abs(driftCents ?? 0) >= HEARD_DRIFT_CENTS &&
                `It drifts by ${formatValue(Math.round(driftCents!), 'ct')} along the note.`,
            ]
              .filter(Boolean)
              .join(' ')
      }
      values={[
        { label: 'Fundamental', value: f0Hz === null ? null : `${f0Hz.toFixed(2)} Hz`, overrule: 'f0Hz' },
        {
          label: 'Notes',
          value:
            reading.notes
              .map((note) => noteName(note.midi))
              .slice(0, 6)
              .join(' ') || null,
        },
        { label: 'Vibrato', value: vibrato && formatValue(vibrato.rateHz, 'Hz'), overrule: 'vibratoRateHz' },
        { label: 'Depth', value: vibrato && `±${vibrato.depthCents.toFixed(0)} ct`, overrule: 'vibratoDepthCents' },
        { label: 'Vibrato from', value: vibrato && formatValue(vibrato.onsetSeconds, 's') },
        { label: 'Glide', value: glideSeconds === null ? null : formatValue(glideSeconds, 's') },
      ]}
    >
      <Chart className="h-full min-h-[108px]" option={option} label="Pitch over time, cents from the fundamental" />
    </TraitCard>
  );
}
