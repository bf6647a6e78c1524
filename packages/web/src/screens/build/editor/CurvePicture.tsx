import { useCallback } from 'react';
import type { Inks } from '../../../drawing/inks';
import { useCanvas } from '../../../drawing/useCanvas';

interface Mark {
  at: number;
  text: string;
}

type Points = readonly { x: number; y: number }[];

interface CurvePictureProps {
  label: string;
  points: Points;
  /** Lines side by side, each with its name; the first one is drawn like a single one. */
  parts?: readonly { name: string; points: Points }[];
  x: readonly [number, number];
  y: readonly [number, number];
  marksX: readonly Mark[];
  marksY: readonly Mark[];
}

const LEFT = 44;
const BOTTOM = 16;
const DASHES = [[], [6, 3], [2, 3]];

/** One curve of the patch on a grid, worked out from its present settings. */
export function CurvePicture({ label, points, parts, x, y, marksX, marksY }: CurvePictureProps) {
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      const px = (value: number) => LEFT + ((value - x[0]) / (x[1] - x[0])) * (width - LEFT - 6);
      const py = (value: number) =>
        4 + (1 - (Math.min(y[1], Math.max(y[0], value)) - y[0]) / (y[1] - y[0])) * (height - BOTTOM - 8);
      context.font = '11px "Spline Sans Mono"';
      context.fillStyle = inks.soft;
      context.strokeStyle = inks.hairline;
      context.textAlign = 'center';
      for (const { at, text } of marksX) {
        context.beginPath();
        context.moveTo(px(at), 4);
        context.lineTo(px(at), height - BOTTOM);
        context.stroke();
        context.fillText(text, px(at), height - 4);
      }
      context.textAlign = 'right';
      for (const { at, text } of marksY) {
        context.beginPath();
        context.moveTo(LEFT, py(at));
        context.lineTo(width - 6, py(at));
        context.stroke();
        context.fillText(text, LEFT - 6, py(at) + 4);
      }
      context.strokeStyle = inks.patch;
      context.lineJoin = 'round';
      const lines = parts ?? [{ name: '', points }];
      lines.forEach(({ name, points: line }, n) => {
        context.lineWidth = n === 0 ? 2 : 1.5;
        context.setLineDash(DASHES[n % DASHES.length]);
        context.beginPath();
        for (const point of line) context.lineTo(px(point.x), py(point.y));
        context.stroke();
        const place = line[Math.floor(((n + 0.5) / lines.length) * line.length)];
        context.fillText(name, px(place.x), py(place.y) - 5);
      });
      context.setLineDash([]);
    },
    [points, parts, x, y, marksX, marksY],
  );
  const canvas = useCanvas(draw);
  return <canvas ref={canvas} className="my-1 block h-[118px] w-full" role="img" aria-label={label} />;
}
