import { useDeferredValue, useMemo } from 'react';
import { effectPicture } from '@imprint/core/engine/effects/chain/picture';
import { formatParameter, formatValue } from '@imprint/core/parameters/format';
import { clampToRange } from '@imprint/core/parameters/parameter';
import { parameterOf } from '@imprint/core/parameters/table';
import type { EffectOf } from '@imprint/core/patch/words/effects';
import { PointEditor } from '../../../drawing/PointEditor';
import { axisIn } from '../../../drawing/axis';
import { usePatchStore } from '../../../stores/patchStore';
import type { SetFields } from './EffectChoices';

const IN = axisIn('dB', [-60, 0]);
const OUT = axisIn('dB', [-60, 6]);
const marks = [-48, -36, -24, -12].map((at) => ({ at, text: formatValue(at, 'dB') }));
const marksY = [-48, -24, 0].map((at) => ({ at, text: formatValue(at, 'dB') }));

/** Level out over level in, with the level from which on it is turned down, to be dragged. */
export function ThresholdShape({
  effect,
  set,
}: {
  effect: EffectOf<'compressor'> | EffectOf<'limiter'>;
  set: SetFields;
}) {
  const bpm = usePatchStore(({ patch }) => patch!.bpm);
  const settled = useDeferredValue(effect);
  const curve = useMemo(
    () => effectPicture(settled, bpm).points.map(({ x, y }) => ({ x, y: Math.min(OUT.range[1], y) })),
    [settled, bpm],
  );
  const compresses = effect.kind === 'compressor';
  const name = compresses ? 'thresholdDb' : 'ceilingDb';
  const value = compresses ? effect.thresholdDb : effect.ceilingDb;
  const parameter = parameterOf(effect.kind, name)!;
  // A threshold is a level that goes in, a ceiling one that comes out.
  const place = compresses
    ? { x: value, y: curve.findLast(({ x }) => x <= value)?.y ?? value }
    : { x: IN.range[1], y: value };
  return (
    <PointEditor
      label="Level that comes out over level that goes in"
      points={[place]}
      curve={curve}
      x={IN}
      y={OUT}
      maxPoints={1}
      marks={marks}
      marksY={marksY}
      describe={() => `${parameter.label} ${formatParameter(parameter, value)}`}
      onMove={(_, to) => set({ [name]: Number(clampToRange(parameter, compresses ? to.x : to.y).toFixed(1)) })}
    />
  );
}
