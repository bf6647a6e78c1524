import { useCallback, useRef, useState } from 'react';
import { gesture } from '../stores/patchStore';
import { ReadOut } from './ReadOut';
import { TypedPoint } from './TypedPoint';
import { type Axis, beginsAValue, gridLines, onAxis } from './axis';
import type { Inks } from './inks';
import { useCanvas } from './useCanvas';

interface Place {
  index: number;
  value: number;
}

interface PaintEditorProps {
  label: string;
  values: ArrayLike<number>;
  axis: Axis;
  /** Bars that stand on the bottom, or a line around zero. */
  as: 'bars' | 'line';
  /** Measured values printed behind, in blue. */
  reference?: ArrayLike<number>;
  /** What one of them is, without its value. */
  place: (index: number) => string;
  onChange: (values: number[]) => void;
}

const KEY_STEP = 0.02;
const FINE = 0.1;

/**
 * A row of values painted with a pointer: a stroke sets every value that it passes, on the grid unless Alt is
 * held. By keys: arrows left and right choose a value, up and down change it (fine with Shift), Enter or a
 * digit types it.
 */
export function PaintEditor({ label, values, axis, as, reference, place, onChange }: PaintEditorProps) {
  const [low, high] = axis.range;
  const count = values.length;
  const [chosen, setChosen] = useState(0);
  const [under, setUnder] = useState<Place | null>(null);
  /** What has been typed when a field opens; null while there is none. */
  const [typing, setTyping] = useState<string | null>(null);
  const stroke = useRef<Place | null>(null);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      const y = (value: number) => height - ((value - low) / (high - low)) * height;
      const slot = width / count;
      context.fillStyle = inks.hairline;
      for (const at of gridLines(axis)) context.fillRect(0, Math.round(y(at)), width, 0.5);
      context.globalCompositeOperation = inks.overprint;
      if (as === 'bars') {
        const bar = (list: ArrayLike<number>, ink: string, shift: number) => {
          context.fillStyle = ink;
          for (let i = 0; i < Math.min(count, list.length); i++) {
            if (list[i] <= low) continue;
            context.fillRect((i + shift) * slot, y(list[i]), Math.max(1, slot * 0.55), height - y(list[i]));
          }
        };
        if (reference) bar(reference, inks.reference, 0.1);
        bar(values, inks.patch, 0.3);
      } else {
        context.strokeStyle = inks.hairline;
        context.strokeRect(-1, y(0), width + 2, 0.5);
        context.strokeStyle = inks.patch;
        context.lineWidth = 2;
        context.beginPath();
        for (let i = 0; i < count; i++) context.lineTo((i + 0.5) * slot, y(values[i]));
        context.stroke();
      }
      context.globalCompositeOperation = 'source-over';
      context.strokeStyle = inks.soft;
      context.lineWidth = 1;
      context.strokeRect(Math.floor(Math.min(chosen, count - 1) * slot) + 0.5, 0.5, Math.max(2, slot), height - 1);
    },
    [values, axis, low, high, count, as, reference, chosen],
  );
  const canvas = useCanvas(draw);

  function at(event: React.PointerEvent): Place {
    const { left, top, width, height } = canvas.current!.getBoundingClientRect();
    const index = Math.min(count - 1, Math.max(0, Math.floor(((event.clientX - left) / width) * count)));
    const value = high - Math.min(1, Math.max(0, (event.clientY - top) / height)) * (high - low);
    return { index, value: onAxis(axis, value, event.altKey) };
  }

  /** Sets all values between the last place of the stroke and this one. */
  function paint(from: Place, to: Place): void {
    const next = Array.from(values);
    const distance = Math.abs(to.index - from.index);
    for (let n = 0; n <= distance; n++) {
      const along = distance === 0 ? 1 : n / distance;
      next[Math.round(from.index + along * (to.index - from.index))] = from.value + along * (to.value - from.value);
    }
    setChosen(to.index);
    onChange(next);
  }

  const shown = Math.min(chosen, count - 1);
  const set = (value: number) => {
    const next = Array.from(values);
    next[shown] = Math.min(high, Math.max(low, value));
    onChange(next);
  };
  const describe = ({ index, value }: Place) => `${place(index)}: ${axis.text(value)}`;

  return (
    <div className="relative my-2">
      <canvas
        ref={canvas}
        role="slider"
        tabIndex={0}
        aria-label={label}
        aria-valuemin={low}
        aria-valuemax={high}
        aria-valuenow={values[shown]}
        aria-valuetext={describe({ index: shown, value: values[shown] })}
        className="block h-[132px] w-full cursor-crosshair touch-none border border-base-300"
        onPointerDown={(event) => {
          if (event.button !== 0) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          gesture.begin();
          const begun = at(event);
          stroke.current = begun;
          paint(begun, begun);
        }}
        onPointerMove={(event) => {
          const reached = at(event);
          setUnder(reached);
          if (!stroke.current) return;
          paint(stroke.current, reached);
          stroke.current = reached;
        }}
        onPointerLeave={() => setUnder(null)}
        onPointerUp={() => {
          if (stroke.current) gesture.end();
          stroke.current = null;
        }}
        onKeyDown={(event) => {
          const step = (event.shiftKey ? FINE : 1) * (axis.grid ?? KEY_STEP * (high - low));
          if (event.key === 'ArrowLeft') setChosen(Math.max(0, shown - 1));
          else if (event.key === 'ArrowRight') setChosen(Math.min(count - 1, shown + 1));
          else if (event.key === 'ArrowUp') set(values[shown] + step);
          else if (event.key === 'ArrowDown') set(values[shown] - step);
          else if (beginsAValue(event)) setTyping(event.key);
          else if (event.key === 'Enter') setTyping('');
          else return;
          event.preventDefault();
          event.stopPropagation();
        }}
      />
      {typing === null && (
        <ReadOut
          text={
            under ? `${place(under.index)}, ${axis.text(values[under.index])} → ${axis.text(under.value)}` : undefined
          }
        />
      )}
      {typing !== null && (
        <TypedPoint
          fields={[{ label: `Value of ${place(shown)}`, axis, value: values[shown] }]}
          begun={typing}
          onDone={([value]) => {
            set(value);
            setTyping(null);
          }}
          onCancel={() => setTyping(null)}
        />
      )}
    </div>
  );
}
