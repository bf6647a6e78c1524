import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import { durationOf } from '@imprint/core/reading/audio';
import { SPECTROGRAM_RANGE_DB, type Spectrogram } from '@imprint/core/reading/spectra/spectrogram';
import { inkedImage } from '../../drawing/inkedImage';
import { toneApi } from '../../stores/threads';
import type { Side } from './sides';
import { BELOW_PX, HZ_MARKS, LEFT_PX, drawAxes, drawCursor, planeOf } from './plots';
import { type DrawMoment, useMomentCanvas } from './useMomentCanvas';

/** A difference of so many dB is printed in full ink. */
const FULL_DB = 24;

/** Levels over time and frequency of both, and where one is louder than the other: on one scale. */
export function Spectrograms({ first, second }: { first: Side; second: Side }) {
  const { data } = useQuery({
    queryKey: ['spectrograms', first.audio, second.audio].map((part) => (typeof part === 'string' ? part : idOf(part))),
    queryFn: async () => {
      const a = await toneApi().spectrogram(first.audio, undefined);
      // At equal loudness.
      const b = await toneApi().spectrogram(second.audio, a.topDb - (first.lufs - second.lufs));
      return { a, b, apart: differenceOf(a, b) };
    },
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const durationSeconds = durationOf(first.audio);
  const shown = [
    { title: 'Blue', image: data && ((inks: Inked) => inkedImage(data.a, inks.reference)) },
    { title: 'Red', image: data && ((inks: Inked) => inkedImage(data.b, inks.patch)) },
    {
      title: 'Louder in blue, louder in red',
      image:
        data &&
        ((inks: Inked) => inkedImage(data.apart.second, inks.patch, inkedImage(data.apart.first, inks.reference))),
    },
  ];
  return shown.map(({ title, image }, i) => (
    <Strip
      key={title}
      title={title}
      image={image}
      durationSeconds={durationSeconds}
      hasScale={i === shown.length - 1}
    />
  ));
}

type Inked = { reference: string; patch: string };

const ids = new WeakMap<object, number>();
let lastId = 0;

/** A number for an object, so that what was made of it can be found again. */
function idOf(thing: object): number {
  const id = ids.get(thing) ?? ++lastId;
  ids.set(thing, id);
  return id;
}

/** What is louder in one and in the other. */
function differenceOf(a: Spectrogram, b: Spectrogram): { first: Spectrogram; second: Spectrogram } {
  const scale = SPECTROGRAM_RANGE_DB / FULL_DB;
  const louder = (one: Spectrogram, other: Spectrogram): Spectrogram => ({
    ...one,
    levels: one.levels.map((level, i) => Math.max(0, Math.min(255, scale * (level - other.levels[i])))),
  });
  return { first: louder(a, b), second: louder(b, a) };
}

/** Times at whole steps, a handful of them. */
function timeMarks(durationSeconds: number): [number, string][] {
  const step = [0.1, 0.2, 0.5, 1, 2, 5, 10, 30, 60].find((one) => durationSeconds / one <= 6) ?? 120;
  return Array.from({ length: Math.floor(durationSeconds / step) + 1 }, (_, i) => [
    i * step,
    `${Number((i * step).toFixed(1))} s`,
  ]);
}

interface StripProps {
  title: string;
  image: ((inks: Inked) => HTMLCanvasElement) | undefined;
  durationSeconds: number;
  /** Whether the times stand below. */
  hasScale: boolean;
}

function Strip({ title, image, durationSeconds, hasScale }: StripProps) {
  const below = hasScale ? BELOW_PX : 0;
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      const plane = planeOf(
        width,
        height,
        { min: 0, max: durationSeconds },
        { min: 40, max: 16_000, log: true },
        below,
      );
      if (image) context.drawImage(image(inks), LEFT_PX, 2, width - LEFT_PX - 4, height - below - 4);
      drawAxes(
        context,
        plane,
        inks,
        [HZ_MARKS[1], HZ_MARKS[4], HZ_MARKS[7]],
        hasScale ? timeMarks(durationSeconds) : [],
      );
      drawCursor(context, plane, inks, plane.x(seconds));
    },
    [image, durationSeconds, hasScale, below],
  );
  const canvas = useMomentCanvas(draw);
  return (
    <div className="hairline-b relative min-h-0 grow basis-0">
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full"
        role="img"
        aria-label={`Spectrogram: ${title.toLowerCase()}`}
      />
      <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs font-bold">{title}</p>
    </div>
  );
}
