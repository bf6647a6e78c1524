/** Groups of traits, as in the reading; a parameter names those it moves. */
export type TraitGroup =
  | 'pitch'
  | 'loudness'
  | 'brightness'
  | 'partials'
  | 'noise'
  | 'unison'
  | 'width'
  | 'motion'
  | 'space'
  | 'dirt';

export type Unit = 'Hz' | 's' | 'dB' | 'st' | 'ct' | '%' | 'octaves' | 'cycles' | '' | 'dB/oct' | 'note' | 'BPM';

/** How values are spread over a ruler, and over the axis of a search. */
export type Scale = 'linear' | 'log';

/**
 * How a route moves a parameter: in which unit its amount is, and how that is put together with the resting
 * value. `semitones` multiplies by 2^(amount/12), `octaves` by 2^amount; `add` adds.
 */
export interface Routing {
  unit: Unit;
  combine: 'add' | 'semitones' | 'octaves';
  min: number;
  max: number;
  /** `always` when left out. */
  moment?: RoutingMoment;
}

/** When a moved value is read: all the time, or once when a note starts, as the times of an envelope are. */
export type RoutingMoment = 'always' | 'noteStart';

/** One entry of the table: everything that the rest of the program knows about a number of a patch. */
export interface Parameter {
  label: string;
  unit: Unit;
  min: number;
  max: number;
  default: number;
  scale: Scale;
  /** Smallest meaningful change, in the unit; whole steps for counted things. */
  step: number;
  /** Present when modulators can move the parameter. */
  routing?: Routing;
  /** Groups of traits that change with it. */
  moves: readonly TraitGroup[];
}

/** Where a value stands on the parameter's ruler, 0 (left) to 1 (right), limited to its range. */
export function positionOnScale(parameter: Parameter, value: number): number {
  const { min, max, scale } = parameter;
  const x = Math.min(max, Math.max(min, value));
  if (scale === 'linear') return (x - min) / (max - min);
  // A log scale that starts at zero is bent near it, so that zero has a place.
  const offset = logOffset(parameter);
  return Math.log((x + offset) / (min + offset)) / Math.log((max + offset) / (min + offset));
}

/** The value at a place on the ruler, rounded to the parameter's step. */
export function valueAtScale(parameter: Parameter, position: number): number {
  const { min, max, scale } = parameter;
  const p = Math.min(1, Math.max(0, position));
  if (scale === 'linear') return roundToStep(parameter, min + p * (max - min));
  const offset = logOffset(parameter);
  return roundToStep(parameter, (min + offset) * ((max + offset) / (min + offset)) ** p - offset);
}

/** The nearest value that the parameter can have. */
export function clampToRange(parameter: Parameter, value: number): number {
  return Math.min(parameter.max, Math.max(parameter.min, value));
}

function roundToStep({ min, max, step }: Parameter, value: number): number {
  const rounded = Math.round(value / step) * step;
  return Math.min(max, Math.max(min, Number(rounded.toPrecision(12))));
}

const logOffset = ({ min, max }: Parameter) => (min > 0 ? 0 : max / 1000);

/** A resting value moved by what routes add up to, in the routing's unit; kept in the parameter's range. */
export function movedValue(parameter: Parameter, resting: number, amount: number): number {
  switch (parameter.routing?.combine) {
    case 'semitones':
      return clampToRange(parameter, resting * 2 ** (amount / 12));
    case 'octaves':
      return clampToRange(parameter, resting * 2 ** amount);
    default:
      return clampToRange(parameter, resting + amount);
  }
}

/**
 * The end of a parameter's range at which a route stops before it has gone all its way, from where the
 * parameter rests; undefined where it has room.
 */
export function rangeLeft(
  parameter: Parameter,
  resting: number,
  amount: number,
  polarity: 'unipolar' | 'bipolar',
): 'min' | 'max' | undefined {
  const { combine } = parameter.routing ?? {};
  const free = (x: number) => {
    if (combine === 'semitones') return resting * 2 ** (x / 12);
    return combine === 'octaves' ? resting * 2 ** x : resting + x;
  };
  // Steps and rounding are no reason to say anything.
  const slack = 1e-6 * (parameter.max - parameter.min);
  const reached = polarity === 'bipolar' ? [free(-Math.abs(amount)), free(Math.abs(amount))] : [free(amount)];
  if (reached.some((x) => x < parameter.min - slack)) return 'min';
  return reached.some((x) => x > parameter.max + slack) ? 'max' : undefined;
}
