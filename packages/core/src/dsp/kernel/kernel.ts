import { code } from './code';

/** The kernel's numbers and places, and what it does. `packages/core/kernel` has the source and says more. */
interface Exports {
  memory: { buffer: ArrayBuffer };
  interpolate(count: number): void;
  decimate(count: number): void;
  shape(
    count: number,
    slot: number,
    beyond: number,
    doublings: number,
    fresh: boolean,
    drive: number,
    driveEnd: number,
    lean: number,
    leanEnd: number,
    wet: number,
    wetEnd: number,
    dry: number,
    dryEnd: number,
  ): void;
  runSections(count: number, sections: number, moving: boolean): void;
  mixSides(count: number, wet: number, wetStep: number, keeps: number, replaces: number): void;
  sendRound(
    from: number,
    to: number,
    back: number,
    backStep: number,
    across: number,
    acrossStep: number,
    low: number,
    high: number,
    drive: number,
    driveStep: number,
  ): void;
  allPass(from: number, to: number, amount: number): void;
  readBetween(count: number, position: number, step: number): void;
  addMultiples(count: number, multiples: number): void;
  transform(size: number): void;
  turn(from: number, count: number, output: number, width: number, widthStep: number): void;
}
type Numbers = Record<
  | 'MOST'
  | 'INNER_REACH'
  | 'OUTER_REACH'
  | 'LAST_REACH'
  | 'INTERPOLATOR_LATENCY'
  | 'DECIMATOR_LATENCY'
  | 'INTERPOLATOR_STATE'
  | 'DECIMATOR_STATE'
  | 'STEREO_SECTION_STATE'
  | 'REACH'
  | 'DENSITY'
  | 'PLACES'
  | 'CUBIC'
  | 'TABLES'
  | 'TABLE_NUMBERS'
  | 'HELD'
  | 'FOLDS'
  | 'LOGARITHM'
  | 'LOG_BEND'
  | 'SHAPER_LATENCY'
  | 'SHAPER_STATE'
  | 'SHAPER_PATH_STATE'
  | 'LINES'
  | 'MOST_TURN'
  | 'WINDOW'
  | 'TAPS'
  | 'PHASES'
  | 'MOST_SAMPLES'
  | 'MOST_VALUES'
  | 'MOST_TURNED'
  | 'MOST_MULTIPLES'
  | 'MOST_POINTS',
  { value: number }
>;
type Places = Record<
  | 'left'
  | 'right'
  | 'dryLeft'
  | 'dryRight'
  | 'loopLeft'
  | 'loopRight'
  | 'plain'
  | 'fine'
  | 'state'
  | 'coefficients'
  | 'steps'
  | 'innerTaps'
  | 'outerTaps'
  | 'lastTaps'
  | 'tables'
  | 'windows'
  | 'rows'
  | 'linePlaces'
  | 'lineSteps'
  | 'lineGains'
  | 'linePoles'
  | 'lineStates'
  | 'sincs'
  | 'samples'
  | 'values'
  | 'turned'
  | 'cosines'
  | 'sines'
  | 'sums'
  | 'points'
  | 'imaginaries'
  | 'turns',
  { value: number }
>;

/** Of the global object, as much as is needed: core knows no platform. */
declare const WebAssembly: {
  Module: new (code: Uint8Array) => object;
  Instance: new (module: object, imports: object) => { exports: Exports & Numbers & Places };
};

const program = new WebAssembly.Module(Uint8Array.from(code));

/** One for each thread: callers take turns, and leave nothing in it. */
export const kernel = new WebAssembly.Instance(program, { shaper: { log1p: Math.log1p }, sides: { tanh: Math.tanh } })
  .exports;

/** So many numbers of the kernel's memory from a place on, `offset` numbers later. */
export const kernelNumbers = (place: keyof Places, length: number, offset = 0): Float64Array =>
  new Float64Array(kernel.memory.buffer, kernel[place].value + Float64Array.BYTES_PER_ELEMENT * offset, length);
