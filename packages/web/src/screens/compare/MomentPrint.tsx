import { type KeyboardEvent, type PointerEvent, useState } from 'react';
import { ReadOut } from '../../drawing/ReadOut';
import { useMoment, useZoom } from '../../stores/comparedStore';
import { DraggedStretch } from './DraggedStretch';
import { shareAcross, useDragAcross } from './useDragAcross';
import { type DrawMoment, useMomentCanvas } from './useMomentCanvas';
import { type Stretch, stretchBetween, valueAt } from '../../drawing/stretch';

interface MomentPrintProps {
  title: string;
  draw: DrawMoment;
  /** What it shows from left to right. */
  across: Stretch;
  /** All that can be shown, where it is of frequencies that can be zoomed. */
  zooms?: Stretch;
  /** What is under the pointer, at a value of the axis. */
  readOut?: (value: number) => string;
  grow: number;
}

const KEY_STEP = 0.01;

/** A picture of the moment, with what is under the pointer told; arrow keys move what is told. */
export function MomentPrint({ title, draw, across, zooms, readOut, grow }: MomentPrintProps) {
  const canvas = useMomentCanvas(draw);
  const [share, setShare] = useState<number | null>(null);
  // What is told is of the moment.
  useMoment();
  const { dragged, handlers, follow } = useDragAcross(
    ({ from, to }) => zooms && useZoom.setState({ hz: stretchBetween(zooms, across, from, to) }),
    () => zooms && useZoom.setState({ hz: null }),
  );
  const point = (next: number) => {
    const inside = Math.min(1, Math.max(0, next));
    setShare(inside);
    if (zooms) useZoom.setState({ axis: 'hz', aroundHz: valueAt(across, inside) });
  };
  const move = (event: PointerEvent<HTMLElement>) => {
    const at = shareAcross(event);
    follow(at);
    point(at);
  };
  const key = (event: KeyboardEvent) => {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    if (way === undefined) return;
    event.preventDefault();
    point((share ?? 0.5) + way * KEY_STEP * (event.shiftKey ? 10 : 1));
  };
  const text = share !== null && readOut ? readOut(valueAt(across, share)) : undefined;
  return (
    <div
      role="slider"
      data-kind="picture"
      tabIndex={0}
      aria-label={title}
      aria-valuemin={across.min}
      aria-valuemax={across.max}
      aria-valuenow={valueAt(across, share ?? 0.5)}
      aria-valuetext={text}
      className={`hairline-b relative min-h-0 basis-0 select-none ${zooms ? 'cursor-crosshair' : ''}`}
      style={{ flexGrow: grow }}
      onPointerMove={move}
      onPointerLeave={() => setShare(null)}
      onFocus={() => point(share ?? 0.5)}
      onBlur={() => setShare(null)}
      onKeyDown={key}
      {...(zooms ? handlers : {})}
    >
      <canvas
        ref={canvas}
        className="absolute inset-0 h-full w-full"
        role="img"
        aria-label={`${title} at the moment`}
      />
      <DraggedStretch dragged={dragged} />
      {text === undefined ? (
        <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs font-bold">{title}</p>
      ) : (
        <ReadOut text={text} />
      )}
    </div>
  );
}
