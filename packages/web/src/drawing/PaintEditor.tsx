import { useCallback, useRef, useState } from 'react';
import { gesture } from '../stores/patchStore';
import type { Inks } from './inks';
import { useCanvas } from './useCanvas';

interface PaintEditorProps {
  label: string;
  values: ArrayLike<number>;
  range: readonly [number, number];
  /** Bars that stand on the bottom, or a line around zero. */
  as: 'bars' | 'line';
  /** Measured values printed behind, in blue. */
  reference?: ArrayLike<number>;
  describe: (index: number, value: number) => string;
  onChange: (values: number[]) => void;
}

const KEY_STEP = 0.02;
const FINE = 0.1;

/**
 * A row of values painted with a pointer: a stroke sets every value that it passes. By keys: arrows left and
 * right choose a value, up and down change it (fine with Shift).
 */
export function PaintEditor({ label, values, range, as, reference, describe, onChange }: PaintEditorProps) {
  const [low, high] = range;
  const count = values.length;
  const [chosen, setChosen] = useState(0);
  const stroke = useRef<{ index: number; value: number } | null>(null);
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      const y = (value: number) => height - ((value - low) / (high - low)) * height;
      const slot = width / count;
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
    [values, low, high, count, as, reference, chosen],
  );
  const canvas = useCanvas(draw);

  function at(event: React.PointerEvent): { index: number; value: number } {
    const { left, top, width, height } = canvas.current!.getBoundingClientRect();
    const index = Math.min(count - 1, Math.max(0, Math.floor(((event.clientX - left) / width) * count)));
    const value = high - Math.min(1, Math.max(0, (event.clientY - top) / height)) * (high - low);
    return { index, value };
  }

  /** Sets all values between the last place of the stroke and this one. */
  function paint(from: { index: number; value: number }, to: { index: number; value: number }): void {
    const next = Array.from(values);
    const distance = Math.abs(to.index - from.index);
    for (let n = 0; n <= distance; n++) {
      const along = distance === 0 ? 1 : n / distance;
      next[Math.round(from.index + along * (to.index - from.index))] = from.value + along * (to.value - from.value);
    }
    setChosen(to.index);
    onChange(next);
  }

  return (
    <canvas
      ref={canvas}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuemin={low}
      aria-valuemax={high}
      aria-valuenow={values[Math.min(chosen, count - 1)]}
      aria-valuetext={describe(chosen, values[Math.min(chosen, count - 1)])}
      title={describe(chosen, values[Math.min(chosen, count - 1)])}
      className="my-2 block h-[132px] w-full cursor-crosshair touch-none border border-base-300"
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        gesture.begin();
        const place = at(event);
        stroke.current = place;
        paint(place, place);
      }}
      onPointerMove={(event) => {
        if (!stroke.current) return;
        const place = at(event);
        paint(stroke.current, place);
        stroke.current = place;
      }}
      onPointerUp={() => {
        if (stroke.current) gesture.end();
        stroke.current = null;
      }}
      onKeyDown={(event) => {
        const step = KEY_STEP * (event.shiftKey ? FINE : 1) * (high - low);
        const set = (value: number) => {
          const next = Array.from(values);
          next[chosen] = Math.min(high, Math.max(low, value));
          onChange(next);
        };
        if (event.key === 'ArrowLeft') setChosen(Math.max(0, chosen - 1));
        else if (event.key === 'ArrowRight') setChosen(Math.min(count - 1, chosen + 1));
        else if (event.key === 'ArrowUp') set(values[chosen] + step);
        else if (event.key === 'ArrowDown') set(values[chosen] - step);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
    />
  );
}
