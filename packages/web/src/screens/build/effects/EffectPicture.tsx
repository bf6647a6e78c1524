import { useDeferredValue, useMemo } from 'react';
import {
  DECAY_FLOOR_DB,
  type EffectPicture as Picture,
  SPECTRUM_FLOOR_DB,
  WAVE_MS,
  effectPicture,
} from '@imprint/core/engine/effects/chain/picture';
import { firstReflectionSeconds } from '@imprint/core/engine/effects/space/reverb';
import { formatValue } from '@imprint/core/parameters/format';
import type { Effect } from '@imprint/core/patch/schema';
import { usePatchStore } from '../../../stores/patchStore';
import { CurvePicture } from '../editor/CurvePicture';

type Axis = Pick<React.ComponentProps<typeof CurvePicture>, 'x' | 'y' | 'marksX' | 'marksY' | 'label'>;

const minus = (text: string) => text.replace('-', '−');
const dbMarks = (levels: readonly number[]) => levels.map((db) => ({ at: db, text: minus(`${db} dB`) }));

export const frequencyMarks = [50, 100, 200, 500, 1000, 2000, 5000, 10000].map((hz) => ({
  at: Math.log2(hz),
  text: hz < 1000 ? String(hz) : `${hz / 1000} k`,
}));

const axes: Record<Exclude<Picture['of'], 'decay'>, Axis> = {
  response: {
    label: 'Response over frequency',
    x: [Math.log2(20), Math.log2(20000)],
    y: [-24, 24],
    marksX: frequencyMarks,
    marksY: dbMarks([-18, -9, 0, 9, 18]),
  },
  spectrum: {
    label: 'What becomes of a tone of 440 Hz with one partial',
    x: [Math.log2(20), Math.log2(20000)],
    y: [SPECTRUM_FLOOR_DB, 6],
    marksX: frequencyMarks,
    marksY: dbMarks([-72, -48, -24, 0]),
  },
  curve: {
    label: 'Output over input',
    x: [-1, 1],
    y: [-1.6, 1.6],
    marksX: [-1, 0, 1].map((at) => ({ at, text: minus(String(at)) })),
    marksY: [-1, 0, 1].map((at) => ({ at, text: minus(String(at)) })),
  },
  wave: {
    label: 'What becomes of a sine of 440 Hz',
    x: [0, WAVE_MS],
    y: [-1.3, 1.3],
    marksX: [1, 2, 3, 4, 5].map((at) => ({ at, text: `${at} ms` })),
    marksY: [-1, 0, 1].map((at) => ({ at, text: minus(String(at)) })),
  },
  turn: {
    label: 'Gain over two turns',
    x: [0, 2],
    y: [0, 1.1],
    marksX: [0.5, 1, 1.5].map((at) => ({ at, text: `${at} turn${at === 1 ? '' : 's'}` })),
    marksY: [0, 0.5, 1].map((at) => ({ at, text: `${100 * at} %` })),
  },
  bar: {
    label: 'Gain over a bar',
    x: [0, 4],
    y: [0, 1.1],
    marksX: [1, 2, 3].map((at) => ({ at, text: `beat ${at + 1}` })),
    marksY: [0, 0.5, 1].map((at) => ({ at, text: `${100 * at} %` })),
  },
  levels: {
    label: 'Level that comes out over level that goes in',
    x: [-60, 0],
    y: [-60, 6],
    marksX: dbMarks([-48, -36, -24, -12]),
    marksY: dbMarks([-48, -24, 0]),
  },
};

function decayAxis(points: Picture['points']): Axis {
  const end = points[points.length - 1].x;
  const step = [0.1, 0.25, 0.5, 1].find((seconds) => end / seconds <= 8) ?? 1;
  const count = Math.floor(end / step);
  return {
    label: 'Level of what follows, over time',
    x: [0, end],
    y: [DECAY_FLOOR_DB, 0],
    marksX: Array.from({ length: count }, (_, i) => ({
      at: (i + 1) * step,
      text: `${Number(((i + 1) * step).toFixed(2))} s`,
    })),
    marksY: dbMarks([-60, -40, -20, 0]),
  };
}

/** What an effect does: worked out from it as it is set; a moment later while a ruler is dragged. */
export function EffectPicture({ effect }: { effect: Effect }) {
  const bpm = usePatchStore(({ patch }) => patch!.bpm);
  const settled = useDeferredValue(effect);
  const { of, points, parts } = useMemo(() => effectPicture(settled, bpm), [settled, bpm]);
  const axis = useMemo(() => (of === 'decay' ? decayAxis(points) : axes[of]), [of, points]);
  return (
    <>
      <CurvePicture {...axis} points={points} parts={parts} />
      {settled.kind === 'reverb' && (
        <p className="text-xs text-soft">
          First reflection after {formatValue(firstReflectionSeconds(settled), 's')}: the pre-delay and{' '}
          {formatValue(firstReflectionSeconds({ ...settled, preDelaySeconds: 0 }), 's')} of the size.
        </p>
      )}
    </>
  );
}
