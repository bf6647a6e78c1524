import type { Inks } from '../../drawing/inks';
import { type Stretch, placeOf } from '../../drawing/stretch';

export interface Plane {
  /** Where a value is; outside what is shown, too. */
  x: (value: number) => number;
  /** Where a value is; what is higher or lower lies on the edge. */
  y: (value: number) => number;
  width: number;
  height: number;
}

const FONT = '10px "Spline Sans Mono"';
/** Room on the left for the figures of the vertical axis, and below for those of the other. */
export const LEFT_PX = 48;
export const RIGHT_PX = 4;
export const BELOW_PX = 14;

/** Where values are in a picture of this size, with room for the figures. */
export function planeOf(width: number, height: number, across: Stretch, up: Stretch, below = BELOW_PX): Plane {
  return {
    width,
    height,
    x: (value) => LEFT_PX + placeOf(across, value) * (width - LEFT_PX - RIGHT_PX),
    y: (value) => (1 - Math.min(1, Math.max(0, placeOf(up, value)))) * (height - below - 4) + 2,
  };
}

/** Draws what may reach out of the picture. */
export function drawInside(context: CanvasRenderingContext2D, { width, height }: Plane, draw: () => void): void {
  context.save();
  context.beginPath();
  context.rect(LEFT_PX, 0, width - LEFT_PX - RIGHT_PX, height);
  context.clip();
  draw();
  context.restore();
}

const isInside = ({ width }: Plane, x: number) => x >= LEFT_PX - 1 && x <= width - RIGHT_PX + 1;

type Marks = readonly (readonly [value: number, label: string])[];

/** Hairlines across with their figures, and figures below. */
export function drawAxes(
  context: CanvasRenderingContext2D,
  plane: Plane,
  inks: Inks,
  up: Marks,
  across: Marks = [],
): void {
  const { x, y, width, height } = plane;
  context.font = FONT;
  context.fillStyle = inks.soft;
  context.strokeStyle = inks.hairline;
  context.lineWidth = 1;
  context.textAlign = 'right';
  for (const [value, label] of up) {
    const at = Math.round(y(value)) + 0.5;
    context.beginPath();
    context.moveTo(LEFT_PX, at);
    context.lineTo(width - RIGHT_PX, at);
    context.stroke();
    context.fillText(label, LEFT_PX - 4, Math.min(height - 3, Math.max(9, at + 3)));
  }
  context.textAlign = 'center';
  for (const [value, label] of across)
    if (isInside(plane, x(value)))
      context.fillText(label, Math.min(width - 14, Math.max(LEFT_PX + 8, x(value))), height - 3);
}

type Line = readonly (readonly [x: number, y: number | null])[];

/** The first filled, the second as a line over it, multiplied where they meet. */
export function drawOverprint(
  context: CanvasRenderingContext2D,
  plane: Plane,
  inks: Inks,
  first: Line,
  second: Line,
  baseY: number,
): void {
  drawInside(context, plane, () => {
    context.fillStyle = inks.reference;
    context.globalAlpha = 0.32;
    for (const run of runsOf(first)) {
      context.beginPath();
      context.moveTo(plane.x(run[0][0]), baseY);
      for (const [x, y] of run) context.lineTo(plane.x(x), plane.y(y));
      context.lineTo(plane.x(run.at(-1)![0]), baseY);
      context.fill();
    }
    context.globalAlpha = 1;
    context.globalCompositeOperation = inks.overprint;
    context.lineJoin = 'round';
    for (const [line, ink, width] of [
      [first, inks.reference, 1.25],
      [second, inks.patch, 1.75],
    ] as const) {
      context.strokeStyle = ink;
      context.lineWidth = width;
      for (const run of runsOf(line)) {
        context.beginPath();
        run.forEach(([x, y], i) => {
          if (i === 0) context.moveTo(plane.x(x), plane.y(y));
          else context.lineTo(plane.x(x), plane.y(y));
        });
        context.stroke();
      }
    }
  });
}

/** Stretches without gaps. */
function runsOf(line: Line): [number, number][][] {
  const runs: [number, number][][] = [[]];
  for (const [x, y] of line) {
    if (y !== null) runs.at(-1)!.push([x, y]);
    else if (runs.at(-1)!.length > 0) runs.push([]);
  }
  return runs.filter((run) => run.length > 1);
}

export const HZ_MARKS: Marks = [
  [50, '50'],
  [100, '100'],
  [200, '200'],
  [500, '500'],
  [1000, '1k'],
  [2000, '2k'],
  [5000, '5k'],
  [10000, '10k'],
];
