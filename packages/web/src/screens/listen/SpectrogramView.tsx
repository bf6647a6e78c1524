import { useCallback, useEffect, useState } from 'react';
import type { Spectrogram } from '@imprint/core/reading/spectra/spectrogram';
import { inkedImage } from '../../drawing/inkedImage';
import type { Inks } from '../../drawing/inks';
import { useCanvas } from '../../drawing/useCanvas';
import { type Heard, heardOverlay, useIsolation } from '../../stores/isolationStore';
import { cutOf, messageOf, useStudyStore } from '../../stores/studyStore';
import { mediaApi } from '../../stores/threads';
import { useView } from './viewStore';

const COLUMNS = 900;
const ROWS = 220;
/** The view must rest this long before a new picture is computed; until then the old one is stretched. */
const REST_MS = 120;
const LABELS_HZ = [50, 100, 200, 500, 1000, 2000, 5000, 10000];

const shownWords: Record<Exclude<Heard, 'whole'>, string> = {
  kept: 'what is kept of the cut',
  leftOut: 'what is left out of the cut',
};

type Picture = Spectrogram & { fromSeconds: number; toSeconds: number };

/** Levels over time and frequency of the shown stretch, computed in a worker. */
export function SpectrogramView() {
  const reference = useStudyStore((state) => state.reference);
  const cut = useStudyStore(cutOf);
  const isolated = useIsolation((state) => state.isolated);
  const heard = useIsolation((state) => state.heard);
  const { fromSeconds, toSeconds } = useView();
  const [picture, setPicture] = useState<Picture | null>(null);
  const [failure, setFailure] = useState<string | null>(null);

  useEffect(() => {
    if (!reference) return;
    let wanted = true;
    const timer = setTimeout(() => {
      mediaApi()
        ?.spectrogram(fromSeconds, toSeconds, COLUMNS, ROWS, heardOverlay(cut))
        .then((result) => {
          if (!wanted || !result) return;
          setPicture({ ...result, fromSeconds, toSeconds });
          setFailure(null);
        })
        .catch((error: unknown) => wanted && setFailure(messageOf(error)));
    }, REST_MS);
    return () => {
      wanted = false;
      clearTimeout(timer);
    };
  }, [reference, fromSeconds, toSeconds, cut, isolated, heard]);

  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      if (!picture) return;
      const perSecond = width / (toSeconds - fromSeconds);
      const left = (picture.fromSeconds - fromSeconds) * perSecond;
      const across = (picture.toSeconds - picture.fromSeconds) * perSecond;
      context.imageSmoothingEnabled = true;
      context.drawImage(inkedImage(picture, inks.reference), left, 0, across, height);
      context.font = '11px "Spline Sans Mono"';
      for (const hz of LABELS_HZ) {
        const y = height * (1 - Math.log(hz / picture.minHz) / Math.log(picture.maxHz / picture.minHz));
        if (y < 10) continue;
        context.fillStyle = inks.hairline;
        context.fillRect(0, y, width, 0.5);
        context.fillStyle = inks.soft;
        context.fillText(hz >= 1000 ? `${hz / 1000} k` : String(hz), 4, y - 3);
      }
    },
    [picture, fromSeconds, toSeconds],
  );
  const canvas = useCanvas(draw);
  return (
    <div className="relative h-full">
      <canvas ref={canvas} className="block h-full w-full" role="img" aria-label="Spectrogram of the reference" />
      {!picture && (
        <p className="absolute inset-0 flex items-center justify-center text-soft">
          {failure ? `The spectrogram cannot be drawn: ${failure}` : 'Drawing the spectrogram …'}
        </p>
      )}
      {isolated && isolated.cutId === cut?.id && heard !== 'whole' && (
        <p className="pointer-events-none absolute right-2 bottom-2 z-10 bg-base-100/80 px-2 text-2xs">
          {shownWords[heard]}
        </p>
      )}
    </div>
  );
}
