import { useMemo } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { parametersOf } from '@imprint/core/parameters/table';
import { pcmOf } from '@imprint/core/patch/contents/samplePcm';
import type { Sample, Source } from '@imprint/core/patch/schema';
import { type EditedPoint, PointEditor } from '../../../drawing/PointEditor';
import { axisIn } from '../../../drawing/axis';

type SampleSource = Extract<Source, { kind: 'sample' }>;

const COLUMNS = 320;

interface SampleShapeProps {
  source: SampleSource;
  sample: Sample;
  onChange: (fields: Partial<SampleSource>) => void;
}

/** The waveform of a sample, with handles on where it starts and on the ends of its loop. */
export function SampleShape({ source, sample, onChange }: SampleShapeProps) {
  const { outline, seconds, peak } = useMemo(() => outlineOf(sample), [sample]);
  const names = source.loop
    ? (['startSeconds', 'loopStartSeconds', 'loopEndSeconds'] as const)
    : (['startSeconds'] as const);
  const parameters = parametersOf('sample');
  return (
    <PointEditor
      label={`Waveform of ${sample.name}`}
      points={names.map((name) => ({
        x: Math.min(source[name], seconds),
        y: (name === 'startSeconds' ? 0.6 : -0.6) * peak,
      }))}
      curve={outline}
      x={axisIn('s', [0, seconds])}
      y={axisIn('', [-peak, peak])}
      maxPoints={names.length}
      describe={({ x }, i) => `${parameters[names[i]].label} ${formatValue(x, 's')}`}
      onMove={(i, to) => onChange({ [names[i]]: Math.max(0, Math.min(seconds, to.x)) })}
    />
  );
}

/** Highest and lowest value of each column, over all channels; the largest of them, with some room. */
function outlineOf(sample: Sample): { outline: EditedPoint[]; seconds: number; peak: number } {
  const channels = pcmOf(sample);
  const frames = channels[0].length;
  const outline = Array.from({ length: Math.min(COLUMNS, frames) }, (_, column) => {
    const from = Math.floor((column * frames) / COLUMNS);
    const to = Math.max(from + 1, Math.floor(((column + 1) * frames) / COLUMNS));
    let high = -1;
    let low = 1;
    for (const channel of channels) {
      for (let i = from; i < to; i++) {
        high = Math.max(high, channel[i]);
        low = Math.min(low, channel[i]);
      }
    }
    const x = from / sample.sampleRateHz;
    return [
      { x, y: high },
      { x, y: low },
    ];
  }).flat();
  const peak = 1.1 * outline.reduce((most, { y }) => Math.max(most, Math.abs(y)), 0.01);
  return { outline, seconds: frames / sample.sampleRateHz, peak };
}
