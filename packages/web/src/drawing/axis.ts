import { formatValue, parseValue } from '@imprint/core/parameters/format';
import type { Unit } from '@imprint/core/parameters/parameter';

/** What the values along one side of a drawing mean: how they are told, typed and held to a grid. */
export interface Axis {
  range: readonly [number, number];
  text: (value: number) => string;
  /** What a typed text means; undefined when it cannot be read. */
  parse: (text: string) => number | undefined;
  /** Distance of the lines to which what is drawn snaps; none when left out. */
  grid?: number;
  /** A value that lies on a line of the grid; 0 when left out. */
  origin?: number;
}

/** Values that stand in the drawing as they are told. */
export const axisIn = (unit: Unit, range: Axis['range'], grid?: number): Axis => ({
  range,
  text: (value) => formatValue(value, unit),
  parse: (text) => parseValue(text, unit),
  grid,
});

/** Values 0..1 or −1..1 that are told in percent. */
export const percentAxis = (range: Axis['range']): Axis => ({
  range,
  text: (value) => `${Math.round(1000 * value) / 10} %`.replace('-', '−'),
  parse: (text) => shareOf(parseValue(text, '%')),
});

/** A share of a turn that is told in degrees. */
export const turnAxis: Axis = {
  range: [0, 1],
  text: (value) => `${Math.round(360 * value)}°`,
  parse: (text) => parseValue(text, 'cycles'),
};

/** Frequencies that stand in the drawing as octaves, the logarithm to the base 2. */
export const octaveAxis = (lowHz: number, highHz: number): Axis => ({
  range: [Math.log2(lowHz), Math.log2(highHz)],
  text: (value) => formatValue(2 ** value, 'Hz'),
  parse: (text) => {
    const hz = parseValue(text, 'Hz');
    return hz !== undefined && hz > 0 ? Math.log2(hz) : undefined;
  },
});

/**
 * An axis on which a value of the drawing stands for an amount that grows in proportion to it, and is told,
 * typed and snapped as such.
 *
 * @param perStep what the amount grows by from 0 to 1 in the drawing
 * @param atZero the amount at 0
 */
export const amountAxis = (unit: Unit, range: Axis['range'], perStep: number, atZero: number): Axis => ({
  range,
  text: (value) => formatValue(atZero + perStep * value, unit),
  parse: (text) => {
    const amount = parseValue(text, unit);
    return amount === undefined ? undefined : (amount - atZero) / perStep;
  },
  grid: gridOf(unit, Math.abs(perStep) * (range[1] - range[0])) / Math.abs(perStep) || undefined,
  origin: -atZero / perStep,
});

/** Whole semitones and decibels, and tenths where the whole drawing spans but a few; 0 for other units. */
function gridOf(unit: Unit, span: number): number {
  if (unit !== 'st' && unit !== 'dB') return 0;
  return span < 6 ? 0.1 : 1;
}

const shareOf = (percent: number | undefined) => (percent === undefined ? undefined : percent / 100);

/** Keeps a value on its axis, and to the grid unless it is drawn freely. */
export function onAxis({ range: [low, high], grid, origin = 0 }: Axis, value: number, freely: boolean): number {
  const snapped = grid && !freely ? origin + Math.round((value - origin) / grid) * grid : value;
  return Math.min(high, Math.max(low, snapped));
}

/** More lines than this would be a hatching. */
const MOST_LINES = 24;

/** Lines of the grid that are far enough apart to be seen. */
export function gridLines({ range: [low, high], grid, origin = 0 }: Axis): number[] {
  if (!grid) return [];
  let step = grid;
  while ((high - low) / step > MOST_LINES) step *= 2;
  const first = Math.ceil((low - origin) / step);
  const last = Math.floor((high - origin) / step);
  return Array.from({ length: last - first + 1 }, (_, i) => origin + (first + i) * step);
}

const FIRST_OF_A_VALUE = /^[0-9.,+−-]$/;

/** Whether a key begins to type a value where something has the focus that has one. */
export const beginsAValue = ({ key, ctrlKey, metaKey, altKey }: React.KeyboardEvent): boolean =>
  FIRST_OF_A_VALUE.test(key) && !ctrlKey && !metaKey && !altKey;
