import { useMemo } from 'react';
import { filterResponse } from '@imprint/core/engine/filters/response';
import { formatParameter, formatValue, parseValue } from '@imprint/core/parameters/format';
import { type Parameter, clampToRange, positionOnScale, valueAtScale } from '@imprint/core/parameters/parameter';
import { parameterOf } from '@imprint/core/parameters/table';
import type { Filter } from '@imprint/core/patch/schema';
import { PointEditor } from '../../../drawing/PointEditor';
import { type Axis, axisIn, octaveAxis } from '../../../drawing/axis';
import { frequencyMarks } from '../effects/EffectPicture';

const DECIBELS = [-48, 24] as const;
/** Where the ends of what is no level stand. */
const SPAN = [-40, 18] as const;
const OCTAVES = octaveAxis(20, 20000);
/** Frequency that the vowels' shift is counted from in the picture. */
const UNSHIFTED_HZ = 1000;
const levelMarks = [-36, -24, -12, 12].map((at) => ({ at, text: formatValue(at, 'dB') }));
/** What dragging up and down changes: the first of these that a kind has. */
const upward = ['resonanceDb', 'gainDb', 'resonance', 'q', 'feedback'] as const;

interface FilterShapeProps {
  filter: Filter;
  set: (fields: Record<string, number>) => void;
}

/**
 * The response of a filter with its corner on it: along for the frequency, up and down for what sharpens it.
 */
export function FilterShape({ filter, set }: FilterShapeProps) {
  const curve = useMemo(
    () =>
      filterResponse(filter, 44100).map(({ hz, db }) => ({
        x: Math.log2(hz),
        y: Math.min(DECIBELS[1], Math.max(DECIBELS[0], db)),
      })),
    [filter],
  );
  const numbers = filter as unknown as Record<string, number>;
  const upName = upward.find((name) => parameterOf(filter.kind, name) !== undefined)!;
  const alongName = 'cutoffHz' in filter ? 'cutoffHz' : 'shiftSemitones';
  const [up, along] = [parameterOf(filter.kind, upName)!, parameterOf(filter.kind, alongName)!];
  const x = 'cutoffHz' in filter ? Math.log2(filter.cutoffHz) : Math.log2(UNSHIFTED_HZ) + filter.shiftSemitones / 12;
  const move = (_: number, to: { x: number; y: number }) => {
    const place = alongName === 'cutoffHz' ? 2 ** to.x : 12 * (to.x - Math.log2(UNSHIFTED_HZ));
    set({
      [alongName]: rounded(along, place),
      [upName]: rounded(up, up.unit === 'dB' ? to.y : valueAtScale(up, positionOf(to.y))),
    });
  };
  const y = up.unit === 'dB' ? numbers[upName] : levelOf(positionOnScale(up, numbers[upName]));
  return (
    <PointEditor
      label="Response at rest, with its corner"
      points={[{ x, y: Math.min(DECIBELS[1], y) }]}
      curve={curve}
      x={OCTAVES}
      y={up.unit === 'dB' ? axisIn('dB', DECIBELS) : axisOf(up)}
      maxPoints={1}
      marks={frequencyMarks}
      marksY={levelMarks}
      describe={() =>
        `${along.label} ${formatParameter(along, numbers[alongName])}, ${up.label.toLowerCase()} ${formatParameter(up, numbers[upName])}`
      }
      onMove={move}
    />
  );
}

const rounded = (parameter: Parameter, value: number) =>
  Number(clampToRange(parameter, Math.round(value / parameter.step) * parameter.step).toPrecision(8));

const levelOf = (position: number) => SPAN[0] + position * (SPAN[1] - SPAN[0]);
const positionOf = (level: number) => (level - SPAN[0]) / (SPAN[1] - SPAN[0]);

/** Heights of the picture told as values of a parameter that is no level. */
const axisOf = (parameter: Parameter): Axis => ({
  range: DECIBELS,
  text: (level) => `${parameter.label} ${formatParameter(parameter, valueAtScale(parameter, positionOf(level)))}`,
  parse: (text) => {
    const value = parseValue(text.replace(parameter.label, ''), parameter.unit);
    return value === undefined ? undefined : levelOf(positionOnScale(parameter, value));
  },
});
