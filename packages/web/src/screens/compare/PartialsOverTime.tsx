import { useQuery } from '@tanstack/react-query';
import { useCallback } from 'react';
import type { Stretch } from '../../drawing/stretch';
import { useZoom } from '../../stores/comparedStore';
import { toneApi } from '../../stores/threads';
import { drawOverprint, planeOf } from './plots';
import type { Side } from './sides';
import { soundKey } from './soundKey';
import { type DrawStill, useStillCanvas } from './useMomentCanvas';

interface PartialsOverTimeProps {
  first: Side;
  second: Side;
  shown: Stretch;
}

/** As many as can be told apart. */
const SHOWN = 8;
const MOST = 32;
/** From the loudest of the reference down. */
const RANGE_DB = 50;

/** How loud each partial is over time, of both: one line of hills above another, the lowest at the bottom. */
export function PartialsOverTime({ first, second, shown }: PartialsOverTimeProps) {
  // Both along one pitch, so that the same partials lie on one another.
  const { reading } = [first, second].find((side) => side.reading.traits.pitch.f0Hz !== null) ?? first;
  const { f0Hz } = reading.traits.pitch;
  const hz = useZoom((zoom) => zoom.hz);
  const lift = first.lufs - second.lufs;
  const { data } = useQuery({
    queryKey: ['partialsOverTime', soundKey(first.audio), soundKey(second.audio), soundKey(reading)],
    queryFn: () => Promise.all([first, second].map(({ audio }) => toneApi().partialsOverTime(audio, reading, MOST))),
    staleTime: Infinity,
    gcTime: 30_000,
  });
  const from = hz && f0Hz ? Math.min(MOST - 1, Math.max(1, Math.round(hz.min / f0Hz))) : 1;
  const draw: DrawStill = useCallback(
    (context, width, height, inks) => {
      if (!data) return;
      const [a, b] = data;
      const count = Math.min(SHOWN, Math.max(a.levelsDb.length, b.levelsDb.length) - from + 1);
      if (count < 1) return;
      const top = Math.max(...a.levelsDb.flatMap((levels) => Array.from(levels)));
      const lane = (height - 4) / (count + 0.5);
      context.font = '10px "Spline Sans Mono"';
      for (let i = count - 1; i >= 0; i--) {
        const base = height - 2 - i * lane;
        const plane = planeOf(width, 1.5 * lane, shown, { min: top - RANGE_DB, max: top }, 0);
        const moved = base - plane.y(top - RANGE_DB);
        const line = ({ hopSeconds, startSeconds, levelsDb }: typeof a, liftDb: number) =>
          Array.from(levelsDb[from - 1 + i] ?? [], (level, k): [number, number] => [
            startSeconds + k * hopSeconds,
            level + liftDb,
          ]);
        context.save();
        context.translate(0, moved);
        drawOverprint(context, plane, inks, line(a, 0), line(b, lift), plane.y(top - RANGE_DB));
        context.restore();
        context.fillStyle = inks.soft;
        context.textAlign = 'right';
        context.fillText(String(from + i), 44, base - 1);
      }
    },
    [data, shown, from, lift],
  );
  const canvas = useStillCanvas(draw);
  return (
    <div className="hairline-b relative min-h-0 grow-[2] basis-0">
      <canvas ref={canvas} className="absolute inset-0 h-full w-full" role="img" aria-label="Partials over time" />
      <p className="pointer-events-none absolute top-0 right-1 bg-base-100/70 px-1 text-2xs font-bold">
        Partials {from} to {Math.min(MOST, from + SHOWN - 1)}
      </p>
    </div>
  );
}
