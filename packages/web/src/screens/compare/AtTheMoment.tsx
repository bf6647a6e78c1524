import { type PointerEvent, useCallback, useState } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { alignedPeriods, momentHz } from '@imprint/core/reading/spectra/moment';
import { ReadOut } from '../../drawing/ReadOut';
import { useCompared, useMoment } from '../../stores/comparedStore';
import type { Side } from './sides';
import { HZ_MARKS, LEFT_PX, drawAxes, drawOverprint, planeOf } from './plots';
import { type DrawMoment, useMomentCanvas } from './useMomentCanvas';

interface Sides {
  first: Side;
  second: Side;
}

const LOWEST_HZ = momentHz[0];
const HIGHEST_HZ = momentHz.at(-1)!;
const FLOOR_DB = -100;
const PARTIALS = 32;
const PERIODS = 3;

const liftOf = ({ first, second }: Sides) => first.lufs - second.lufs;
const f0Of = ({ first, second }: Sides) =>
  first.reading.traits.pitch.f0Hz ?? second.reading.traits.pitch.f0Hz ?? undefined;

/** What the two are at one moment of the note: spectrum, partials, waveform, and width by band. */
export function AtTheMoment(sides: Sides) {
  return (
    <div className="flex min-h-0 flex-col">
      <SpectrumPrint {...sides} />
      <PartialsPrint {...sides} />
      <WavePrint {...sides} />
      <WidthPrint {...sides} />
    </div>
  );
}

interface PrintProps {
  title: string;
  draw: DrawMoment;
  /** What is under the pointer, at a share of the width. */
  readOut?: (share: number) => string;
  grow: number;
}

function Print({ title, draw, readOut, grow }: PrintProps) {
  const canvas = useMomentCanvas(draw);
  const [share, setShare] = useState<number | null>(null);
  useMoment();
  const follow = ({ currentTarget, clientX }: PointerEvent<HTMLElement>) => {
    const { left, width } = currentTarget.getBoundingClientRect();
    setShare(Math.min(1, Math.max(0, (clientX - left - LEFT_PX) / (width - LEFT_PX - 4))));
  };
  return (
    <section
      aria-label={title}
      className="hairline-b relative min-h-0 basis-0"
      style={{ flexGrow: grow }}
      onPointerMove={follow}
      onPointerLeave={() => setShare(null)}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full"
        role="img"
        aria-label={`${title} at the moment`}
      />
      {share === null || !readOut ? (
        <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs font-bold">{title}</p>
      ) : (
        <ReadOut text={readOut(share)} />
      )}
    </section>
  );
}

const db = (level: number) => (level <= FLOOR_DB ? '–' : formatValue(Math.round(10 * level) / 10, 'dB'));

function SpectrumPrint(sides: Sides) {
  const { first, second } = sides;
  const smooth = useCompared((state) => state.smooth);
  const lift = liftOf(sides);
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      const across = { min: LOWEST_HZ, max: HIGHEST_HZ, log: true };
      const plane = planeOf(width, height, across, { min: FLOOR_DB, max: 0 });
      drawAxes(context, plane, inks, levelMarks, HZ_MARKS);
      const line = (side: Side, liftDb: number) => {
        const levels = side.moment.spectrumAt(seconds, smooth);
        return momentHz.map((hz, i): [number, number] => [hz, levels[i] + liftDb]);
      };
      drawOverprint(context, plane, inks, line(first, 0), line(second, lift), plane.y(FLOOR_DB));
    },
    [first, second, smooth, lift],
  );
  const readOut = (share: number) => {
    const i = Math.round(share * (momentHz.length - 1));
    const { seconds } = useMoment.getState();
    const [a, b] = [first, second].map(({ moment }) => moment.spectrumAt(seconds, smooth)[i]);
    return `${formatValue(Number(momentHz[i].toPrecision(3)), 'Hz')}: ${db(a)}, ${db(b + lift)}`;
  };
  return <Print title="Spectrum" draw={draw} readOut={readOut} grow={2} />;
}

const levelMarks = [
  [0, '0'],
  [-40, '−40'],
  [-80, '−80 dB'],
] as const;

function PartialsPrint(sides: Sides) {
  const { first, second } = sides;
  const f0Hz = f0Of(sides);
  const lift = liftOf(sides);
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      const plane = planeOf(width, height, { min: 0.4, max: PARTIALS + 0.6 }, { min: FLOOR_DB, max: 0 });
      drawAxes(context, plane, inks, levelMarks, partialMarks);
      if (f0Hz === undefined) return;
      context.globalCompositeOperation = inks.overprint;
      const bar = 0.5 * (plane.x(2) - plane.x(1));
      [first, second].forEach(({ moment }, i) => {
        const levels = moment.partialsAt(seconds, f0Hz, PARTIALS);
        context.fillStyle = i === 0 ? inks.reference : inks.patch;
        levels.forEach((level, n) => {
          const top = plane.y(level + i * lift);
          context.fillRect(plane.x(n + 1) - bar / 2 + (i - 0.5) * 0.35 * bar, top, bar, plane.y(FLOOR_DB) - top);
        });
      });
      context.globalCompositeOperation = 'source-over';
    },
    [first, second, f0Hz, lift],
  );
  const readOut = (share: number) => {
    if (f0Hz === undefined) return '';
    const n = Math.min(PARTIALS, Math.max(1, Math.round(0.4 + share * (PARTIALS + 0.2))));
    const { seconds } = useMoment.getState();
    const [a, b] = [first, second].map(({ moment }) => moment.partialsAt(seconds, f0Hz, n)[n - 1]);
    return `partial ${n}: ${db(a)}, ${db(b + lift)}`;
  };
  return <Print title="Partials" draw={draw} readOut={readOut} grow={1.2} />;
}

const partialMarks = [1, 8, 16, 24, 32].map((n): [number, string] => [n, String(n)]);

function WavePrint(sides: Sides) {
  const { first, second } = sides;
  const f0Hz = f0Of(sides);
  const lift = liftOf(sides);
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      if (f0Hz === undefined) return;
      const { sampleRateHz } = first.audio;
      const [a, b] = alignedPeriods([first.mono, second.mono], sampleRateHz, seconds, f0Hz, PERIODS);
      const gain = 10 ** (lift / 20);
      const lines = [a, b.map((value) => gain * value)];
      const most = Math.max(1e-4, ...lines.flatMap((line) => Array.from(line, Math.abs)));
      const plane = planeOf(width, height, { min: 0, max: PERIODS }, { min: -most, max: most });
      drawAxes(context, plane, inks, [[0, '0']], periodMarks);
      const [x, y] = lines.map((line) =>
        Array.from(line, (value, i): [number, number] => [(i * PERIODS) / line.length, value]),
      );
      drawOverprint(context, plane, inks, x, y, plane.y(0));
    },
    [first, second, f0Hz, lift],
  );
  return <Print title="Waveform, three periods, aligned" draw={draw} grow={1} />;
}

const periodMarks = [1, 2, 3].map((n): [number, string] => [n, String(n)]);

function WidthPrint({ first, second }: Sides) {
  const draw: DrawMoment = useCallback(
    (context, width, height, inks) => {
      const across = { min: LOWEST_HZ, max: HIGHEST_HZ, log: true };
      const plane = planeOf(width, height, across, { min: -60, max: 6 });
      drawAxes(context, plane, inks, widthMarks, HZ_MARKS);
      const line = ({ reading }: Side) =>
        reading.traits.width.bands.flatMap(({ fromHz, toHz, widthDb }): [number, number | null][] => [
          [Math.max(LOWEST_HZ, fromHz), widthDb],
          [toHz, widthDb],
        ]);
      drawOverprint(context, plane, inks, line(first), line(second), plane.y(-60));
    },
    [first, second],
  );
  return <Print title="Width by band, over the whole cut" draw={draw} grow={0.9} />;
}

const widthMarks = [
  [0, '0'],
  [-30, '−30'],
  [-60, '−60 dB'],
] as const;
