import { useRef, useState } from 'react';
import { gesture } from '../stores/patchStore';
import { type Bend, BendHandle } from './BendHandle';
import { ReadOut } from './ReadOut';
import { TypedPoint } from './TypedPoint';
import { type Axis, gridLines, onAxis } from './axis';

export interface EditedPoint {
  x: number;
  y: number;
  /** What else belongs to it and goes where it goes. */
  bend?: number;
}

interface PointEditorProps {
  label: string;
  points: readonly EditedPoint[];
  x: Axis;
  y: Axis;
  /** Where what a place means along x differs from point to point: how that of one is typed. */
  axisOf?: (index: number) => Axis;
  /** What is told of a place under the pointer; both its values when left out. */
  readOut?: (place: EditedPoint) => string;
  /** Ends keep their place along x and cannot be taken away. */
  fixedEnds?: boolean;
  maxPoints: number;
  /** The line between the points, in x and y; straight when left out. */
  curve?: readonly EditedPoint[];
  /** The same of the reference, drawn behind it. */
  reference?: readonly EditedPoint[];
  bends?: readonly Bend[];
  /** Values along x that are written under the line. */
  marks?: readonly { at: number; text: string }[];
  /** Values along y that are written at its left. */
  marksY?: readonly { at: number; text: string }[];
  /** What a point is, for points that mean something each; its place when left out. */
  describe?: (point: EditedPoint, index: number) => string;
  /** Where such a point is wanted. None can then be added or taken away. */
  onMove?: (index: number, to: EditedPoint) => void;
  onChange?: (points: EditedPoint[]) => void;
}

const KEY_STEP = 0.02;
const FINE = 0.1;
/** Points closer than this would not be told apart. */
const MIN_DISTANCE = 0.002;
const HEIGHT = 132;

/**
 * A line drawn by its points: drag them, double-click for another one, and by keys: Tab to a point, arrows
 * move it (fine with Shift), Enter opens fields to type its place, Insert adds one behind it, Delete takes it
 * away. Points snap to the grid of the axes, unless Alt is held. Between points that can be bent, a round
 * handle bends the line.
 */
export function PointEditor({
  label,
  points,
  x,
  y,
  fixedEnds = false,
  maxPoints,
  curve = points,
  reference = [],
  bends = [],
  marks = [],
  marksY = [],
  readOut = (place) => `${x.text(place.x)}: ${y.text(place.y)}`,
  axisOf = () => x,
  describe = readOut,
  onMove,
  onChange,
}: PointEditorProps) {
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const [under, setUnder] = useState<EditedPoint | null>(null);
  const [typed, setTyped] = useState<number | null>(null);
  const [[left, right], [bottom, top]] = [x.range, y.range];
  const px = (value: number) => (100 * (value - left)) / (right - left);
  const py = (value: number) => 100 - (100 * (value - bottom)) / (top - bottom);
  const isEnd = (i: number) => fixedEnds && (i === 0 || i === points.length - 1);

  function placeOf(event: React.PointerEvent | React.MouseEvent): EditedPoint {
    const area = box.current!.getBoundingClientRect();
    const along = (event.clientX - area.left) / area.width;
    const up = 1 - (event.clientY - area.top) / area.height;
    return {
      x: onAxis(x, left + along * (right - left), event.altKey),
      y: onAxis(y, bottom + up * (top - bottom), event.altKey),
    };
  }

  /** Moves a point; it stays between its neighbours. */
  function move(i: number, to: EditedPoint): void {
    if (onMove) {
      onMove(i, to);
      return;
    }
    const gap = MIN_DISTANCE * (right - left);
    const least = i > 0 ? points[i - 1].x + gap : left;
    const most = i < points.length - 1 ? points[i + 1].x - gap : right;
    const placed = {
      x: isEnd(i) ? points[i].x : Math.min(most, Math.max(least, to.x)),
      y: Math.min(top, Math.max(bottom, to.y)),
    };
    onChange?.(points.map((point, n) => (n === i ? { ...point, ...placed } : point)));
  }

  function add(point: EditedPoint): void {
    if (
      onMove ||
      points.length >= maxPoints ||
      points.some((other) => Math.abs(other.x - point.x) < MIN_DISTANCE * (right - left))
    )
      return;
    onChange?.([...points, point].sort((a, b) => a.x - b.x));
  }

  function remove(i: number): void {
    if (onMove || isEnd(i) || points.length <= (fixedEnds ? 2 : 1)) return;
    onChange?.(points.filter((_, n) => n !== i));
  }

  function onKey(event: React.KeyboardEvent, i: number): void {
    const fine = event.shiftKey ? FINE : 1;
    const dx = fine * (x.grid ?? KEY_STEP * (right - left));
    const dy = fine * (y.grid ?? KEY_STEP * (top - bottom));
    const { x: px0, y: py0 } = points[i];
    if (event.key === 'ArrowLeft') move(i, { x: px0 - dx, y: py0 });
    else if (event.key === 'ArrowRight') move(i, { x: px0 + dx, y: py0 });
    else if (event.key === 'ArrowUp') move(i, { x: px0, y: py0 + dy });
    else if (event.key === 'ArrowDown') move(i, { x: px0, y: py0 - dy });
    else if (event.key === 'Enter') setTyped(i);
    else if (event.key === 'Delete' || event.key === 'Backspace') remove(i);
    else if (event.key === 'Insert') {
      const next = points[i + 1] ?? { x: right, y: py0 };
      add({ x: (px0 + next.x) / 2, y: (py0 + next.y) / 2 });
    } else return;
    event.preventDefault();
    event.stopPropagation();
  }

  const path = (line: readonly EditedPoint[]) => line.map((point) => `${px(point.x)},${py(point.y)}`).join(' ');

  return (
    <figure aria-label={label} className="relative my-2 border border-base-300" style={{ height: HEIGHT }}>
      <svg
        ref={box}
        className="absolute inset-0 h-full w-full touch-none overflow-visible"
        viewBox="0 0 100 100"
        preserveAspectRatio="none"
        onDoubleClick={(event) => add(placeOf(event))}
        onPointerMove={(event) => {
          const place = placeOf(event);
          setUnder(place);
          if (held !== null) move(held, place);
        }}
        onPointerLeave={() => setUnder(null)}
        onPointerUp={() => {
          if (held !== null) gesture.end();
          setHeld(null);
        }}
      >
        {marks.map(({ at }) => (
          <line
            key={at}
            x1={px(at)}
            x2={px(at)}
            y1="0"
            y2="100"
            stroke="var(--color-base-300)"
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {[0, ...gridLines(y)].map((at, n) => (
          <line
            key={n}
            x1="0"
            x2="100"
            y1={py(at)}
            y2={py(at)}
            stroke="var(--color-base-300)"
            opacity={at === 0 ? 1 : 0.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
        {reference.length > 1 && (
          <polygon
            points={`${px(reference[0].x)},${py(bottom)} ${path(reference)} ${px(reference.at(-1)!.x)},${py(bottom)}`}
            fill="var(--ink-reference)"
            opacity="0.28"
          />
        )}
        <polyline
          points={path(curve)}
          fill="none"
          stroke="var(--ink-patch)"
          strokeWidth="2"
          vectorEffect="non-scaling-stroke"
        />
      </svg>
      {marks.map(({ at, text }) => (
        <span
          key={at}
          className="figures pointer-events-none absolute bottom-0 -translate-x-1/2 text-2xs text-soft"
          style={{ left: `${px(at)}%` }}
        >
          {text}
        </span>
      ))}
      {marksY.map(({ at, text }) => (
        <span
          key={at}
          className="figures pointer-events-none absolute left-1 -translate-y-1/2 text-2xs text-soft"
          style={{ top: `${py(at)}%` }}
        >
          {text}
        </span>
      ))}
      {bends.map((bend) => (
        <BendHandle
          key={bend.title}
          bend={bend}
          left={px(bend.x)}
          top={py(bend.y)}
          yAt={(clientY) => {
            const area = box.current!.getBoundingClientRect();
            return bottom + (1 - (clientY - area.top) / area.height) * (top - bottom);
          }}
        />
      ))}
      {points.map((point, i) => (
        <button
          key={i}
          type="button"
          aria-label={`${onMove ? '' : `Point ${i + 1}: `}${describe(point, i)}`}
          title={`${describe(point, i)}. Drag it, or type its place${onMove ? '' : '; Delete takes it away'}.`}
          className="absolute size-[13px] -translate-x-1/2 -translate-y-1/2 cursor-move touch-none border-2 bg-base-100"
          style={{ left: `${px(point.x)}%`, top: `${py(point.y)}%`, borderColor: 'var(--ink-patch)' }}
          onPointerDown={(event) => {
            if (event.button !== 0) return;
            box.current!.setPointerCapture(event.pointerId);
            event.currentTarget.focus();
            event.preventDefault();
            gesture.begin();
            setHeld(i);
          }}
          onDoubleClick={(event) => {
            event.stopPropagation();
            remove(i);
          }}
          onKeyDown={(event) => onKey(event, i)}
        />
      ))}
      {typed === null && <ReadOut text={under ? readOut(under) : undefined} />}
      {typed !== null && points[typed] && (
        <TypedPoint
          fields={[
            { label: 'Along', axis: axisOf(typed), value: points[typed].x },
            { label: 'Up', axis: y, value: points[typed].y },
          ]}
          onDone={([along, up]) => {
            move(typed, { x: along, y: up });
            setTyped(null);
          }}
          onCancel={() => setTyped(null)}
        />
      )}
    </figure>
  );
}
