import { useRef, useState } from 'react';
import { gesture } from '../stores/patchStore';
import { type Bend, BendHandle } from './BendHandle';

export interface EditedPoint {
  x: number;
  y: number;
  /** What else belongs to it and goes where it goes. */
  bend?: number;
}

interface PointEditorProps {
  label: string;
  points: readonly EditedPoint[];
  x: readonly [number, number];
  y: readonly [number, number];
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
  describe: (point: EditedPoint, index: number) => string;
  /** For points that mean something each: where one is wanted. None can then be added or taken away. */
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
 * move it (fine with Shift), Insert adds one behind it, Delete takes it away. Between points that can be
 * bent, a round handle bends the line.
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
  describe,
  onMove,
  onChange,
}: PointEditorProps) {
  const box = useRef<SVGSVGElement>(null);
  const [held, setHeld] = useState<number | null>(null);
  const px = (value: number) => (100 * (value - x[0])) / (x[1] - x[0]);
  const py = (value: number) => 100 - (100 * (value - y[0])) / (y[1] - y[0]);
  const isEnd = (i: number) => fixedEnds && (i === 0 || i === points.length - 1);

  function placeOf(event: React.PointerEvent | React.MouseEvent): EditedPoint {
    const { left, top, width, height } = box.current!.getBoundingClientRect();
    const along = Math.min(1, Math.max(0, (event.clientX - left) / width));
    const up = Math.min(1, Math.max(0, 1 - (event.clientY - top) / height));
    return { x: x[0] + along * (x[1] - x[0]), y: y[0] + up * (y[1] - y[0]) };
  }

  /** Moves a point; it stays between its neighbours. */
  function move(i: number, to: EditedPoint): void {
    if (onMove) {
      onMove(i, to);
      return;
    }
    const gap = MIN_DISTANCE * (x[1] - x[0]);
    const least = i > 0 ? points[i - 1].x + gap : x[0];
    const most = i < points.length - 1 ? points[i + 1].x - gap : x[1];
    const placed = {
      x: isEnd(i) ? points[i].x : Math.min(most, Math.max(least, to.x)),
      y: Math.min(y[1], Math.max(y[0], to.y)),
    };
    onChange?.(points.map((point, n) => (n === i ? { ...point, ...placed } : point)));
  }

  function add(point: EditedPoint): void {
    if (
      onMove ||
      points.length >= maxPoints ||
      points.some((other) => Math.abs(other.x - point.x) < MIN_DISTANCE * (x[1] - x[0]))
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
    const dx = KEY_STEP * fine * (x[1] - x[0]);
    const dy = KEY_STEP * fine * (y[1] - y[0]);
    const { x: px0, y: py0 } = points[i];
    if (event.key === 'ArrowLeft') move(i, { x: px0 - dx, y: py0 });
    else if (event.key === 'ArrowRight') move(i, { x: px0 + dx, y: py0 });
    else if (event.key === 'ArrowUp') move(i, { x: px0, y: py0 + dy });
    else if (event.key === 'ArrowDown') move(i, { x: px0, y: py0 - dy });
    else if (event.key === 'Delete' || event.key === 'Backspace') remove(i);
    else if (event.key === 'Insert') {
      const next = points[i + 1] ?? { x: x[1], y: py0 };
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
        onPointerMove={(event) => held !== null && move(held, placeOf(event))}
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
        <line x1="0" x2="100" y1={py(0)} y2={py(0)} stroke="var(--color-base-300)" vectorEffect="non-scaling-stroke" />
        {reference.length > 1 && (
          <polygon
            points={`${px(reference[0].x)},${py(y[0])} ${path(reference)} ${px(reference.at(-1)!.x)},${py(y[0])}`}
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
            const { top, height } = box.current!.getBoundingClientRect();
            return y[0] + (1 - (clientY - top) / height) * (y[1] - y[0]);
          }}
        />
      ))}
      {points.map((point, i) => (
        <button
          key={i}
          type="button"
          aria-label={`${onMove ? '' : `Point ${i + 1}: `}${describe(point, i)}`}
          title={`${describe(point, i)}. Drag it${onMove ? '' : '; Delete takes it away'}.`}
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
    </figure>
  );
}
