import { useCallback } from 'react';
import type { Inks } from './inks';
import { useCanvas } from './useCanvas';

export type LanePoint = readonly [seconds: number, value: number | null];

interface LaneProps {
  title: string;
  detail: string;
  durationSeconds: number;
  /** Values at the bottom and the top of the lane; for a logarithmic lane, of the logarithm's argument. */
  range: [number, number];
  log?: boolean;
  reference: readonly LanePoint[];
  patch: readonly LanePoint[];
  /** Length of a beat; a line is drawn at each. */
  beatSeconds: number;
  /** In words under the title, so that it lies on no curve: what the movement does. */
  effect?: string;
}

/** More beats than this would be a grey field. */
const MAX_BEATS = 64;

/** A contour on the note's own time axis: the reference as a filled area, the patch as a line over it. */
export function Lane({
  title,
  detail,
  durationSeconds,
  range,
  log = false,
  reference,
  patch,
  beatSeconds,
  effect,
}: LaneProps) {
  const [low, high] = range;
  const draw = useCallback(
    (context: CanvasRenderingContext2D, width: number, height: number, inks: Inks) => {
      const scale = (value: number) =>
        log ? Math.log(value / low) / Math.log(high / low) : (value - low) / (high - low);
      const x = (seconds: number) => (seconds / durationSeconds) * width;
      const y = (value: number) => height - 2 - Math.min(1, Math.max(0, scale(value))) * (height - 8);
      context.strokeStyle = inks.hairline;
      context.lineWidth = 1;
      for (let beat = 0; beat * beatSeconds < durationSeconds && beat < MAX_BEATS; beat++) {
        context.setLineDash(beat % 4 === 0 ? [] : [2, 3]);
        context.beginPath();
        context.moveTo(Math.round(x(beat * beatSeconds)) + 0.5, 0);
        context.lineTo(Math.round(x(beat * beatSeconds)) + 0.5, height);
        context.stroke();
      }
      context.setLineDash([]);
      context.fillStyle = inks.reference;
      context.globalAlpha = 0.32;
      for (const run of runsOf(reference)) {
        context.beginPath();
        context.moveTo(x(run[0][0]), height);
        for (const [seconds, value] of run) context.lineTo(x(seconds), y(value));
        context.lineTo(x(run[run.length - 1][0]), height);
        context.fill();
      }
      context.globalAlpha = 1;
      context.globalCompositeOperation = inks.overprint;
      context.lineJoin = 'round';
      strokeRuns(context, runsOf(reference), x, y, inks.reference, 1.25);
      strokeRuns(context, runsOf(patch), x, y, inks.patch, 2.25);
    },
    [durationSeconds, low, high, log, reference, patch, beatSeconds],
  );
  const canvas = useCanvas(draw);
  return (
    <div className="hairline-t grid min-h-0 grow basis-0 grid-cols-[118px_1fr] overflow-hidden first:border-t-0">
      <div className="min-w-0 overflow-hidden py-[2px] pr-2 pl-5">
        <h3 className="truncate font-bold">{title}</h3>
        <p className="figures truncate text-2xs leading-tight text-soft" title={detail}>
          {detail}
        </p>
        {effect && (
          <p className="figures truncate text-2xs leading-tight text-patch-text" title={effect}>
            {effect}
          </p>
        )}
      </div>
      <div className="relative">
        <canvas
          ref={canvas}
          className="absolute inset-0 block h-full w-full"
          role="img"
          aria-label={`${title} over time: reference filled, patch as a line`}
        />
      </div>
    </div>
  );
}

type Run = [number, number][];

/** Stretches without gaps. */
function runsOf(points: readonly LanePoint[]): Run[] {
  const runs: Run[] = [];
  let run: Run = [];
  for (const [seconds, value] of points) {
    if (value === null) {
      if (run.length > 1) runs.push(run);
      run = [];
    } else run.push([seconds, value]);
  }
  if (run.length > 1) runs.push(run);
  return runs;
}

function strokeRuns(
  context: CanvasRenderingContext2D,
  runs: Run[],
  x: (seconds: number) => number,
  y: (value: number) => number,
  colour: string,
  width: number,
): void {
  context.strokeStyle = colour;
  context.lineWidth = width;
  for (const run of runs) {
    context.beginPath();
    run.forEach(([seconds, value], i) =>
      i === 0 ? context.moveTo(x(seconds), y(value)) : context.lineTo(x(seconds), y(value)),
    );
    context.stroke();
  }
}
