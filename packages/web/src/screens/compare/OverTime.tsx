import { type PointerEvent, useCallback, useMemo } from 'react';
import { centsBetween } from '@imprint/core/dsp/pitch';
import { formatValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';
import { durationOf } from '@imprint/core/reading/audio';
import { type Series, seriesAt } from '@imprint/core/reading/documentParts';
import { seriesPoints } from '../../drawing/seriesPoints';
import { showMoment, useMoment, useZoom } from '../../stores/comparedStore';
import type { Side } from './sides';
import { DraggedStretch } from './DraggedStretch';
import { PartialsOverTime } from './PartialsOverTime';
import { Spectrograms } from './Spectrograms';
import { drawAxes, drawOverprint, planeOf } from './plots';
import { leftOf, shareAcross, useDragAcross } from './useDragAcross';
import { type DrawStill, useStillCanvas } from './useMomentCanvas';
import { type Stretch, placeOf, stretchBetween, valueAt } from '../../drawing/stretch';

interface Sides {
  first: Side;
  second: Side;
}

interface LaneKind {
  title: string;
  unit: Unit;
  min: number;
  max: number;
  log?: boolean;
  marks: readonly (readonly [value: number, label: string])[];
  of: (side: Side, origin: Side) => { series: Series; value: (raw: number) => number };
}

const f0Of = ({ reading }: Side) => reading.traits.pitch.f0Hz ?? 440;

const lanes: readonly LaneKind[] = [
  {
    title: 'Level',
    unit: 'dB',
    min: -48,
    max: 18,
    marks: [
      [0, '0'],
      [-24, '−24'],
      [-48, '−48 dB'],
    ],
    // Loudness does not show as a difference.
    of: (side) => ({ series: side.reading.traits.loudness.contour, value: (db) => db - side.lufs }),
  },
  {
    title: 'Brightness',
    unit: 'Hz',
    min: 50,
    max: 12_000,
    log: true,
    marks: [
      [100, '100'],
      [1000, '1k'],
      [10_000, '10 kHz'],
    ],
    of: ({ reading }) => ({ series: reading.traits.brightness.contour, value: (hz) => hz }),
  },
  {
    title: 'Pitch',
    unit: 'ct',
    min: -120,
    max: 120,
    marks: [
      [100, '+100'],
      [0, '0'],
      [-100, '−100 ct'],
    ],
    of: ({ reading }, origin) => ({
      series: reading.traits.pitch.contour,
      value: (hz) => centsBetween(f0Of(origin), hz),
    }),
  },
  {
    title: 'Width',
    unit: 'dB',
    min: -60,
    max: 6,
    marks: [
      [0, '0'],
      [-60, '−60 dB'],
    ],
    of: ({ width }) => ({ series: width, value: (db) => db }),
  },
];

const STEP_SECONDS = 0.01;

/** What changes over the note, with a cursor that all pictures follow. */
export function OverTime({ first, second }: Sides) {
  const durationSeconds = durationOf(first.audio);
  const seconds = useMoment((state) => state.seconds);
  const whole = useMemo((): Stretch => ({ min: 0, max: durationSeconds }), [durationSeconds]);
  const shown = useZoom(({ time }) => time) ?? whole;
  const { dragged, handlers, follow } = useDragAcross(
    ({ from, to }) => useZoom.setState({ time: stretchBetween(whole, shown, from, to) }),
    () => useZoom.setState({ time: null }),
  );
  const point = (event: PointerEvent<HTMLElement>) => {
    const share = shareAcross(event);
    follow(share);
    showMoment(valueAt(shown, share), durationSeconds);
  };
  return (
    <div
      role="slider"
      data-kind="picture"
      tabIndex={0}
      aria-label="Moment of the note"
      aria-valuemin={0}
      aria-valuemax={durationSeconds}
      aria-valuenow={seconds}
      aria-valuetext={`${seconds.toFixed(2)} s`}
      className="hairline-r relative flex min-h-0 cursor-crosshair flex-col select-none"
      onPointerMove={point}
      onPointerEnter={() => useZoom.setState({ axis: 'time' })}
      onFocus={() => useZoom.setState({ axis: 'time' })}
      {...handlers}
      onKeyDown={(event) => {
        const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
        if (way === undefined) return;
        event.preventDefault();
        const to = seconds + way * STEP_SECONDS * (event.shiftKey ? 10 : 1);
        showMoment(Math.min(shown.max, Math.max(shown.min, to)), durationSeconds);
      }}
    >
      {lanes.map((lane) => (
        <LanePrint key={lane.title} lane={lane} first={first} second={second} shown={shown} />
      ))}
      <PartialsOverTime first={first} second={second} shown={shown} />
      <Spectrograms first={first} second={second} shown={shown} />
      <Cursor shown={shown} />
      <DraggedStretch dragged={dragged} />
    </div>
  );
}

/** The moment that is looked at, over all lanes: they need not be drawn again for it. */
function Cursor({ shown }: { shown: Stretch }) {
  const share = placeOf(
    shown,
    useMoment(({ seconds }) => seconds),
  );
  if (share < 0 || share > 1) return null;
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute inset-y-0 w-px bg-base-content"
      style={{ left: leftOf(share) }}
    />
  );
}

interface LanePrintProps extends Sides {
  lane: LaneKind;
  shown: Stretch;
}

function LanePrint({ lane, first, second, shown }: LanePrintProps) {
  const { title, min, max, log, marks, of } = lane;
  const [a, b] = [of(first, first), of(second, first)];
  const draw: DrawStill = useCallback(
    (context, width, height, inks) => {
      const plane = planeOf(width, height, shown, { min, max, log }, 0);
      drawAxes(context, plane, inks, marks);
      const line = ({ series, value }: typeof a) => seriesPoints(series, value);
      drawOverprint(context, plane, inks, line(a), line(b), plane.y(min));
    },
    // The two are made of the sides and the lane.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [first, second, lane, shown],
  );
  const canvas = useStillCanvas(draw);
  return (
    <div className="hairline-b relative min-h-0 grow basis-0">
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" role="img" aria-label={`${title} over time`} />
      <LaneValues lane={lane} a={a} b={b} />
    </div>
  );
}

function LaneValues({ lane: { title, unit }, a, b }: { lane: LaneKind; a: ReturnType<LaneKind['of']>; b: typeof a }) {
  const seconds = useMoment((state) => state.seconds);
  const words = ({ series, value }: typeof a) => {
    const raw = seriesAt(series, seconds);
    return raw === null ? '–' : formatValue(Number(value(raw).toPrecision(3)), unit);
  };
  return (
    <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs">
      <span className="font-bold">{title}</span> <span className="figures text-reference-text">{words(a)}</span>{' '}
      <span className="figures text-patch-text">{words(b)}</span>
    </p>
  );
}
