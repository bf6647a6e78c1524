import type { Inks } from '../../drawing/inks';

export interface Plane {
  x: (value: number) => number;
  y: (value: number) => number;
  width: number;
  height: number;
}

const FONT = '10px "Spline Sans Mono"';
/** Room on the left for the figures of the vertical axis, and below for those of the other. */
export const LEFT_PX = 48;
export const BELOW_PX = 14;

interface Axis {
  min: number;
  max: number;
  log?: boolean;
}

/** Where values are in a picture of this size, with room for the figures. */
export function planeOf(width: number, height: number, across: Axis, up: Axis, below = BELOW_PX): Plane {
  const scale = ({ min, max, log }: Axis, value: number) =>
    log ? Math.log(value / min) / Math.log(max / min) : (value - min) / (max - min);
  const inside = (share: number) => Math.min(1, Math.max(0, share));
  return {
    width,
    height,
    x: (value) => LEFT_PX + inside(scale(across, value)) * (width - LEFT_PX - 4),
    y: (value) => (1 - inside(scale(up, value))) * (height - below - 4) + 2,
  };
}

type Marks = readonly (readonly [value: number, label: string])[];

/** Hairlines across with their figures, and figures below. */
export function drawAxes(
  context: CanvasRenderingContext2D,
  { x, y, width, height }: Plane,
  inks: Inks,
  up: Marks,
  across: Marks = [],
): void {
  context.font = FONT;
  context.fillStyle = inks.soft;
  context.strokeStyle = inks.hairline;
  context.lineWidth = 1;
  context.textAlign = 'right';
  for (const [value, label] of up) {
    const at = Math.round(y(value)) + 0.5;
    context.beginPath();
    context.moveTo(LEFT_PX, at);
    context.lineTo(width - 4, at);
    context.stroke();
    context.fillText(label, LEFT_PX - 4, Math.min(height - 3, Math.max(9, at + 3)));
  }
  context.textAlign = 'center';
  for (const [value, label] of across)
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
  context.save();
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
      run.forEach(([x, y], i) =>
        i === 0 ? context.moveTo(plane.x(x), plane.y(y)) : context.lineTo(plane.x(x), plane.y(y)),
      );
      context.stroke();
    }
  }
  context.restore();
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

/** Where the moment is that is looked at. */
export function drawCursor(context: CanvasRenderingContext2D, { height }: Plane, inks: Inks, x: number): void {
  context.strokeStyle = inks.ink;
  context.lineWidth = 1;
  context.beginPath();
  context.moveTo(Math.round(x) + 0.5, 0);
  context.lineTo(Math.round(x) + 0.5, height);
  context.stroke();
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
