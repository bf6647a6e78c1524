/**
 * What engine and reading spend most of their time on, in AssemblyScript: two numbers of 64 bits at a time.
 * `npm run kernel` compiles it.
 */
export {
  MOST,
  coefficients,
  dryLeft,
  dryRight,
  fine,
  left,
  loopLeft,
  loopRight,
  plain,
  right,
  state,
  steps,
} from './regions';
export {
  DECIMATOR_LATENCY,
  DECIMATOR_STATE,
  INNER_REACH,
  INTERPOLATOR_LATENCY,
  INTERPOLATOR_STATE,
  LAST_REACH,
  OUTER_REACH,
  decimate,
  innerTaps,
  interpolate,
  lastTaps,
  outerTaps,
} from './halfband';
export { MOST_POINTS, imaginaries, points, transform, turns } from './fourier';
export { MOST_MULTIPLES, MOST_TURNED, addMultiples, cosines, sines, sums, turned } from './harmonics';
export { STEREO_SECTION_STATE, runSections } from './sections';
export { MOST_SAMPLES, MOST_VALUES, PHASES, TAPS, readBetween, samples, sincs, values } from './sinc';
export { mixSides, sendRound } from './sides';
export {
  CUBIC,
  DENSITY,
  FOLDS,
  HELD,
  LOGARITHM,
  LOG_BEND,
  PLACES,
  REACH,
  SHAPER_LATENCY,
  SHAPER_PATH_STATE,
  SHAPER_STATE,
  TABLES,
  TABLE_NUMBERS,
  shape,
  tables,
} from './shaper';
export {
  LINES,
  MOST_TURN,
  WINDOW,
  allPass,
  lineGains,
  linePlaces,
  linePoles,
  lineStates,
  lineSteps,
  rows,
  turn,
  windows,
} from './reverb';
