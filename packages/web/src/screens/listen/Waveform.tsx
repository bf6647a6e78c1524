import { useCallback } from 'react';
import { extremesOf } from '@imprint/core/reading/partials/peaks';
import type { Inks } from '../../drawing/inks';
import { useCanvas } from '../../drawing/useCanvas';
import { useStudyStore } from '../../stores/studyStore';
import { useView } from './viewStore';

/** The reference's waveform over the shown stretch, all channels on one line. */
export function Waveform() {
  const reference = useStudyStore((state) => state.reference);
  const { fromSeconds, toSeconds } = useView();
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      if (!reference) return;
      const { audio, peaks } = reference;
      const samplesPerPixel = ((toSeconds - fromSeconds) * audio.sampleRateHz) / width;
      const middle = height / 2;
      context.strokeStyle = inks.hairline;
      context.beginPath();
      context.moveTo(0, middle);
      context.lineTo(width, middle);
      context.stroke();
      context.fillStyle = inks.reference;
      for (let x = 0; x < width; x++) {
        const from = fromSeconds * audio.sampleRateHz + x * samplesPerPixel;
        const [least, most] =
          samplesPerPixel < 2 * peaks.samplesPerPeak
            ? extremesOf(
                audio.channels,
                Math.floor(from),
                Math.max(Math.floor(from) + 1, Math.ceil(from + samplesPerPixel)),
              )
            : extremesOfPeaks(
                peaks.extremes,
                from / peaks.samplesPerPeak,
                (from + samplesPerPixel) / peaks.samplesPerPeak,
              );
        const top = middle - most * middle;
        context.fillRect(x, top, 1, Math.max(1, (most - least) * middle));
      }
    },
    [reference, fromSeconds, toSeconds],
  );
  const canvas = useCanvas(draw);
  return <canvas ref={canvas} className="block h-full w-full" role="img" aria-label="Waveform of the reference" />;
}

function extremesOfPeaks(extremes: Float32Array, from: number, to: number): [number, number] {
  let least = 0;
  let most = 0;
  const end = Math.min(extremes.length / 2, Math.ceil(to));
  for (let i = Math.max(0, Math.floor(from)); i < end; i++) {
    least = Math.min(least, extremes[2 * i]);
    most = Math.max(most, extremes[2 * i + 1]);
  }
  return [least, most];
}
