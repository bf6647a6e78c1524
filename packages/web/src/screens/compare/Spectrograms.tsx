import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { type PointerEvent, useCallback, useMemo, useState } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { SPECTROGRAM_RANGE_DB, type Spectrogram } from '@imprint/core/reading/spectra/spectrogram';
import { ReadOut } from '../../drawing/ReadOut';
import { inkedImage } from '../../drawing/inkedImage';
import { useZoom } from '../../stores/comparedStore';
import { toneApi } from '../../stores/threads';
import type { Side } from './sides';
import { BELOW_PX, HZ_MARKS, drawAxes, drawInside, planeOf } from './plots';
import { soundKey } from './soundKey';
import { shareAcross } from './useDragAcross';
import { type DrawStill, useStillCanvas } from './useMomentCanvas';
import { type Stretch, placeOf, valueAt } from '../../drawing/stretch';

/** A difference of so many dB is printed in full ink. */
const FULL_DB = 24;
const USUAL_HZ: Stretch = { min: 40, max: 16_000, log: true };

interface SpectrogramsProps {
  first: Side;
  second: Side;
  /** The stretch of time that is shown. */
  shown: Stretch;
}

/** Levels over time and frequency of both, and where one is louder than the other: on one scale. */
export function Spectrograms({ first, second, shown }: SpectrogramsProps) {
  const shownHz = useZoom(({ hz }) => hz) ?? USUAL_HZ;
  const topDb = useTop(first, second);
  const { data } = useQuery({
    queryKey: ['spectrograms', soundKey(first.audio), soundKey(second.audio), shown, shownHz],
    queryFn: async () => {
      const [a, b] = await Promise.all(
        [first, second].map(({ audio, lufs }) =>
          // At equal loudness.
          toneApi().spectrogram(audio, spanOf(shown, shownHz), topDb! - (first.lufs - lufs)),
        ),
      );
      return { a, b, apart: differenceOf(a, b), time: shown };
    },
    enabled: topDb !== undefined,
    // What is already there is stretched until the closer look comes.
    placeholderData: keepPreviousData,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const images = useMemo(() => (data ? imagesOf(data) : []), [data]);
  const covered = useMemo(
    () => data && { time: data.time, hz: { min: data.a.minHz, max: data.a.maxHz, log: true } },
    [data],
  );
  const readOut = (seconds: number, hz: number) =>
    data &&
    `${seconds.toFixed(3)} s, ${formatValue(Number(hz.toPrecision(3)), 'Hz')}: ${[data.a, data.b]
      .map((picture) => levelWords(picture, data.time, seconds, hz))
      .join(', ')}`;
  return titles.map((title, i) => (
    <Strip
      key={title}
      title={title}
      image={images[i]}
      covered={covered}
      shown={shown}
      shownHz={shownHz}
      readOut={readOut}
      hasScale={i === titles.length - 1}
    />
  ));
}

/** Level at a place of a picture, against the loudest of the reference. */
function levelWords({ columns, rows, minHz, maxHz, levels }: Spectrogram, time: Stretch, seconds: number, hz: number) {
  const column = Math.floor(columns * placeOf(time, seconds));
  const row = Math.floor(rows * placeOf({ min: minHz, max: maxHz, log: true }, hz));
  const level = column >= 0 && column < columns && row >= 0 && row < rows ? levels[column * rows + row] : 0;
  return level === 0 ? '–' : formatValue(Math.round(SPECTROGRAM_RANGE_DB * (level / 255 - 1)), 'dB');
}

const spanOf = (time: Stretch, hz: Stretch) => ({
  fromSeconds: time.min,
  toSeconds: time.max,
  minHz: hz.min,
  maxHz: hz.max,
});

/** The loudest level of both, so that every stretch is shown on the scale of the whole. */
function useTop(first: Side, second: Side): number | undefined {
  const whole = { min: 0, max: first.reading.durationSeconds };
  const { data } = useQuery({
    queryKey: ['loudest', soundKey(first.audio), soundKey(second.audio)],
    queryFn: async () => (await toneApi().spectrogram(first.audio, spanOf(whole, USUAL_HZ))).topDb,
    staleTime: Infinity,
    gcTime: 30_000,
  });
  return data;
}

type Inked = { reference: string; patch: string };

const titles = ['Blue', 'Red', 'Louder in blue, louder in red'];

interface Pictures {
  a: Spectrogram;
  b: Spectrogram;
  apart: { first: Spectrogram; second: Spectrogram };
}

const imagesOf = ({ a, b, apart }: Pictures): ((inks: Inked) => HTMLCanvasElement)[] => [
  (inks) => inkedImage(a, inks.reference),
  (inks) => inkedImage(b, inks.patch),
  (inks) => inkedImage(apart.second, inks.patch, inkedImage(apart.first, inks.reference)),
];

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
function timeMarks({ min, max }: Stretch): [number, string][] {
  const step = [0.001, 0.002, 0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 30].find(
    (one) => (max - min) / one <= 6,
  );
  const every = step ?? 60;
  const first = Math.ceil(min / every);
  return Array.from({ length: Math.floor(max / every) - first + 1 }, (_, i) => {
    const seconds = (first + i) * every;
    return [seconds, `${Number(seconds.toFixed(3))} s`];
  });
}

/** A few of the usual figures, or the edges where none of them is shown. */
function hzMarks({ min, max }: Stretch): (readonly [number, string])[] {
  const inside = HZ_MARKS.filter(([hz]) => hz > min && hz < max);
  const few = [inside[1], inside[4], inside[7]].filter((mark) => mark !== undefined);
  if (few.length > 1) return few;
  return [0.15, 0.85].map((share) => {
    const hz = valueAt({ min, max, log: true }, share);
    return [hz, String(Math.round(hz))];
  });
}

interface StripProps {
  title: string;
  image: ((inks: Inked) => HTMLCanvasElement) | undefined;
  /** What the image is of. */
  covered: { time: Stretch; hz: Stretch } | undefined;
  shown: Stretch;
  shownHz: Stretch;
  readOut: (seconds: number, hz: number) => string | undefined;
  /** Whether the times stand below. */
  hasScale: boolean;
}

function Strip({ title, image, covered, shown, shownHz, readOut, hasScale }: StripProps) {
  const below = hasScale ? BELOW_PX : 0;
  const [place, setPlace] = useState<{ seconds: number; hz: number } | null>(null);
  const draw: DrawStill = useCallback(
    (context, width, height, inks) => {
      const plane = planeOf(width, height, shown, shownHz, below);
      if (covered && image) {
        const bottom = height - below - 2;
        const up = (hz: number) => bottom - placeOf(shownHz, hz) * (bottom - 2);
        const [left, top] = [plane.x(covered.time.min), up(covered.hz.max)];
        drawInside(context, plane, () => {
          context.drawImage(image(inks), left, top, plane.x(covered.time.max) - left, up(covered.hz.min) - top);
        });
      }
      drawAxes(context, plane, inks, hzMarks(shownHz), hasScale ? timeMarks(shown) : []);
    },
    [image, covered, shown, shownHz, hasScale, below],
  );
  const canvas = useStillCanvas(draw);
  const follow = (event: PointerEvent<HTMLElement>) => {
    const { top, height } = event.currentTarget.getBoundingClientRect();
    const up = 1 - (event.clientY - top - 2) / (height - below - 4);
    setPlace({ seconds: valueAt(shown, shareAcross(event)), hz: valueAt(shownHz, Math.min(1, Math.max(0, up))) });
  };
  const text = place ? readOut(place.seconds, place.hz) : undefined;
  return (
    <div
      className="hairline-b relative min-h-0 grow basis-0"
      onPointerMove={follow}
      onPointerLeave={() => setPlace(null)}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full"
        role="img"
        aria-label={`Spectrogram: ${title.toLowerCase()}`}
      />
      {text === undefined ? (
        <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs font-bold">{title}</p>
      ) : (
        <ReadOut text={text} />
      )}
    </div>
  );
}
