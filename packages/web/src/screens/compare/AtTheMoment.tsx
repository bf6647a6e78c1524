import { useCallback, useMemo } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { alignedPeriods, hzBetween } from '@imprint/core/reading/spectra/moment';
import { useCompared, useMoment, useZoom } from '../../stores/comparedStore';
import { MomentPrint } from './MomentPrint';
import type { Side } from './sides';
import { HZ_MARKS, drawAxes, drawInside, drawOverprint, planeOf } from './plots';
import type { DrawMoment } from './useMomentCanvas';
import { ALL_HZ, type Stretch, valueAt } from '../../drawing/stretch';

interface Sides {
  first: Side;
  second: Side;
}

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

const db = (level: number) => (level <= FLOOR_DB ? '–' : formatValue(Math.round(10 * level) / 10, 'dB'));

const useShownHz = () => useZoom(({ hz }) => hz) ?? ALL_HZ;

const hzWords = (hz: number) => formatValue(Number(hz.toPrecision(3)), 'Hz');

/** Figures below, finer where the usual ones are too far apart. */
function hzMarks({ min, max }: Stretch): readonly (readonly [number, string])[] {
  if (max / min > 6) return HZ_MARKS;
  return [0.1, 0.5, 0.9].map((share) => {
    const hz = valueAt({ min, max, log: true }, share);
    return [hz, hzWords(hz)];
  });
}

function SpectrumPrint(sides: Sides) {
  const { first, second } = sides;
  const smooth = useCompared((state) => state.smooth);
  const shown = useShownHz();
  const points = useMemo(() => hzBetween(shown.min, shown.max), [shown]);
  const lift = liftOf(sides);
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      const plane = planeOf(width, height, shown, { min: FLOOR_DB, max: 0 });
      drawAxes(context, plane, inks, levelMarks, hzMarks(shown));
      const line = (side: Side, liftDb: number) => {
        const levels = side.moment.spectrumAt(seconds, points, smooth);
        return points.map((hz, i): [number, number] => [hz, levels[i] + liftDb]);
      };
      drawOverprint(context, plane, inks, line(first, 0), line(second, lift), plane.y(FLOOR_DB));
    },
    [first, second, smooth, lift, shown, points],
  );
  const readOut = (hz: number) => {
    const { seconds } = useMoment.getState();
    const i = Math.max(
      0,
      points.findIndex((point) => point >= hz),
    );
    const [a, b] = [first, second].map(({ moment }) => moment.spectrumAt(seconds, points, smooth)[i]);
    return `${hzWords(hz)}: ${db(a)}, ${db(b + lift)}`;
  };
  return <MomentPrint title="Spectrum" draw={draw} across={shown} zooms={ALL_HZ} readOut={readOut} grow={2} />;
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
  const zoom = useZoom(({ hz }) => hz);
  const shown = useMemo(() => partialsWithin(zoom, f0Hz), [zoom, f0Hz]);
  const draw: DrawMoment = useCallback(
    (context, width, height, inks, seconds) => {
      const plane = planeOf(width, height, shown, { min: FLOOR_DB, max: 0 });
      drawAxes(context, plane, inks, levelMarks, partialMarks(shown));
      if (f0Hz === undefined) return;
      const bar = Math.min(24, 0.5 * (plane.x(2) - plane.x(1)));
      drawInside(context, plane, () => {
        context.globalCompositeOperation = inks.overprint;
        [first, second].forEach(({ moment }, i) => {
          const levels = moment.partialsAt(seconds, f0Hz, Math.floor(shown.max));
          context.fillStyle = i === 0 ? inks.reference : inks.patch;
          levels.forEach((level, n) => {
            const top = plane.y(level + i * lift);
            context.fillRect(plane.x(n + 1) - bar / 2 + (i - 0.5) * 0.35 * bar, top, bar, plane.y(FLOOR_DB) - top);
          });
        });
      });
    },
    [first, second, f0Hz, lift, shown],
  );
  const readOut = (at: number) => {
    if (f0Hz === undefined) return '';
    const n = Math.max(1, Math.round(at));
    const { seconds } = useMoment.getState();
    const [a, b] = [first, second].map(({ moment }) => moment.partialsAt(seconds, f0Hz, n)[n - 1]);
    return `partial ${n}: ${db(a)}, ${db(b + lift)}`;
  };
  return <MomentPrint title="Partials" draw={draw} across={shown} readOut={readOut} grow={1.2} />;
}

/** The first partials, or those that lie in the stretch of frequencies that is shown. */
function partialsWithin(hz: Stretch | null, f0Hz: number | undefined): Stretch {
  if (!hz || f0Hz === undefined) return { min: 0.4, max: PARTIALS + 0.6 };
  const first = Math.max(1, Math.floor(hz.min / f0Hz));
  return { min: first - 0.6, max: Math.max(first + 1, Math.ceil(hz.max / f0Hz)) + 0.6 };
}

function partialMarks({ min, max }: Stretch): [number, string][] {
  const step = [1, 2, 4, 8, 16, 32].find((one) => (max - min) / one <= 6) ?? 64;
  const [first, last] = [Math.ceil(min / step), Math.floor(max / step)];
  return Array.from({ length: last - first + 1 }, (_, i) => (first + i) * step)
    .map((n) => Math.max(1, n))
    .map((n) => [n, String(n)]);
}

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
      const plane = planeOf(width, height, PERIODS_SHOWN, { min: -most, max: most });
      drawAxes(context, plane, inks, [[0, '0']], periodMarks);
      const [x, y] = lines.map((line) =>
        Array.from(line, (value, i): [number, number] => [(i * PERIODS) / line.length, value]),
      );
      drawOverprint(context, plane, inks, x, y, plane.y(0));
    },
    [first, second, f0Hz, lift],
  );
  return <MomentPrint title="Waveform, three periods, aligned" draw={draw} across={PERIODS_SHOWN} grow={1} />;
}

const PERIODS_SHOWN: Stretch = { min: 0, max: PERIODS };

const periodMarks = [1, 2, 3].map((n): [number, string] => [n, String(n)]);

function WidthPrint({ first, second }: Sides) {
  const shown = useShownHz();
  const draw: DrawMoment = useCallback(
    (context, width, height, inks) => {
      const plane = planeOf(width, height, shown, { min: -60, max: 6 });
      drawAxes(context, plane, inks, widthMarks, hzMarks(shown));
      const line = ({ reading }: Side) =>
        reading.traits.width.bands.flatMap(({ fromHz, toHz, widthDb }): [number, number | null][] => [
          [Math.max(ALL_HZ.min, fromHz), widthDb],
          [toHz, widthDb],
        ]);
      drawOverprint(context, plane, inks, line(first), line(second), plane.y(-60));
    },
    [first, second, shown],
  );
  const readOut = (hz: number) => {
    const [a, b] = [first, second].map(({ reading: { traits } }) => {
      const band = traits.width.bands.find(({ fromHz, toHz }) => hz >= fromHz && hz <= toHz);
      return band ? formatValue(Number(band.widthDb.toPrecision(3)), 'dB') : '–';
    });
    return `${hzWords(hz)}: ${a}, ${b}`;
  };
  return (
    <MomentPrint
      title="Width by band, over the whole cut"
      draw={draw}
      across={shown}
      zooms={ALL_HZ}
      readOut={readOut}
      grow={0.9}
    />
  );
}

const widthMarks = [
  [0, '0'],
  [-30, '−30'],
  [-60, '−60 dB'],
] as const;
