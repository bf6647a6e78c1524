import { useDeferredValue, useMemo } from 'react';
import { effectPicture } from '@imprint/core/engine/effects/chain/picture';
import { formatValue } from '@imprint/core/parameters/format';
import { clampToRange } from '@imprint/core/parameters/parameter';
import { parameterOf } from '@imprint/core/parameters/table';
import { bandTitles } from '@imprint/core/parameters/effects/choices';
import { PointEditor } from '../../../drawing/PointEditor';
import { axisIn, octaveAxis } from '../../../drawing/axis';
import { usePatchStore } from '../../../stores/patchStore';
import type { EffectOf } from '@imprint/core/patch/words/effects';
import type { SetFields } from './EffectChoices';
import { frequencyMarks } from './EffectPicture';

const OCTAVES = octaveAxis(20, 20000);
const DECIBELS = axisIn('dB', [-24, 24]);
const gainMarks = [-12, 12].map((at) => ({ at, text: formatValue(at, 'dB') }));
const SILENT_KINDS: readonly string[] = ['lowCut', 'highCut', 'notch'];

/**
 * The response of an equaliser with its bands on it, to be dragged: along for the frequency, up and down for
 * the gain.
 */
export function EqualizerShape({ effect, set }: { effect: EffectOf<'equalizer'>; set: SetFields }) {
  const bpm = usePatchStore(({ patch }) => patch!.bpm);
  const settled = useDeferredValue(effect);
  const curve = useMemo(
    () =>
      effectPicture(settled, bpm).points.map(({ x, y }) => ({
        x,
        y: Math.min(DECIBELS.range[1], Math.max(DECIBELS.range[0], y)),
      })),
    [settled, bpm],
  );
  const numbers = effect as unknown as Record<string, number>;
  const bands = effect.bands.flatMap(({ kind }, index) =>
    kind === 'off' ? [] : [{ kind, number: index + 1, hasGain: !SILENT_KINDS.includes(kind) }],
  );
  const points = bands.map(({ number, hasGain }) => ({
    x: Math.log2(numbers[`band${number}Hz`]),
    y: hasGain ? numbers[`band${number}Db`] : 0,
  }));
  const move = (point: number, to: { x: number; y: number }) => {
    const { number, hasGain } = bands[point];
    const place = (name: string, value: number, digits: number) => ({
      [name]: Number(clampToRange(parameterOf('equalizer', name)!, value).toFixed(digits)),
    });
    set({
      ...place(`band${number}Hz`, 2 ** to.x, 1),
      ...(hasGain ? place(`band${number}Db`, to.y, 1) : {}),
    });
  };
  return (
    <PointEditor
      label="Response over frequency, with its bands"
      points={points}
      curve={curve}
      x={OCTAVES}
      y={DECIBELS}
      maxPoints={8}
      marks={frequencyMarks}
      marksY={gainMarks}
      describe={(_, i) => {
        const { kind, number, hasGain } = bands[i];
        const gain = hasGain ? `, ${formatValue(numbers[`band${number}Db`], 'dB')}` : '';
        return `Band ${number}, ${bandTitles[kind]} at ${formatValue(numbers[`band${number}Hz`], 'Hz')}${gain}`;
      }}
      onMove={move}
    />
  );
}
