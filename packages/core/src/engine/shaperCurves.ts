import type { Shaper } from '../patch/schema';
import { drawnAt } from './drawnLine';

export type ShaperCurve = Shaper['curve'];

/** How far the negative half of a tube goes against the positive one. */
const TUBE_LEAN = 1.6;
const DIODE_KNEE = 4;
/** With it full scale driven by 48 dB comes out just under 1. */
const LOG_BEND = 8;
const SINE_STOP = Math.PI / 2;

/**
 * Output of each curve over its input, of about ±1. All have slope 1 at 0 (sine folding π/2), so quiet sounds pass as they are. Soft: tanh.
 * Tube: exponential knees of unequal height, hence even partials. Diode: the negative half is held at a quarter. Sine: rounded into its stop
 * as a quarter of a sine. Logarithmic: never stops. Folding turns back at ±1, as a sine or as straight lines.
 */
const curves: Record<Exclude<ShaperCurve, 'drawn'>, (x: number) => number> = {
  soft: Math.tanh,
  hard: (x) => Math.max(-1, Math.min(1, x)),
  tube: (x) => (x >= 0 ? -Math.expm1(-x) : Math.expm1(TUBE_LEAN * x) / TUBE_LEAN),
  diode: (x) => (x >= 0 ? Math.tanh(x) : Math.tanh(DIODE_KNEE * x) / DIODE_KNEE),
  sine: (x) => (Math.abs(x) >= SINE_STOP ? Math.sign(x) : Math.sin(x)),
  logarithmic: (x) => (Math.sign(x) * Math.log1p(LOG_BEND * Math.abs(x))) / LOG_BEND,
  sineFold: (x) => Math.sin(0.5 * Math.PI * x),
  fold: (x) => 1 - 4 * Math.abs(0.25 * (x + 1) - Math.floor(0.25 * (x + 1)) - 0.5),
};
/** Input after which a curve that folds comes back to where it was. */
const PERIOD = 4;

/** Inputs from −REACH to REACH are in the table, so many places to each unit: corners at whole inputs fall on places. */
const REACH = 16;
const DENSITY = 64;
const PLACES = 2 * REACH * DENSITY + 1;

/** A curve as it is run: itself, and its integral and its values in a table. */
export interface CurveTable {
  /** Output for one input. */
  curve: (x: number) => number;
  integrals: Float64Array;
  values: Float64Array;
  /** What becomes of inputs beyond the table: the curve stays where it is, comes back every PERIOD, or goes on as a logarithm. */
  beyond: 'held' | 'folds' | 'logarithm';
}

function createTable(curve: (x: number) => number, beyond: CurveTable['beyond']): CurveTable {
  const integrals = new Float64Array(PLACES);
  const values = new Float64Array(PLACES);
  for (let i = 0; i < PLACES; i++) values[i] = curve(i / DENSITY - REACH);
  for (let i = 1; i < PLACES; i++) {
    // Simpson's rule.
    const middle = curve((i - 0.5) / DENSITY - REACH);
    integrals[i] = integrals[i - 1] + (values[i - 1] + 4 * middle + values[i]) / (6 * DENSITY);
  }
  return { curve, integrals, values, beyond };
}

const tables = new Map<ShaperCurve, CurveTable>();

/** The table of a curve; those that are not drawn are made once. */
export function curveTableOf(curve: ShaperCurve, drawnCurve: Shaper['drawnCurve']): CurveTable {
  if (curve === 'drawn') return createTable((x) => drawnAt(drawnCurve, x), 'held');
  let table = tables.get(curve);
  if (!table) {
    const folds = curve === 'sineFold' || curve === 'fold';
    table = createTable(curves[curve], folds ? 'folds' : curve === 'logarithmic' ? 'logarithm' : 'held');
    tables.set(curve, table);
  }
  return table;
}

/** Integral of a curve from −REACH on, by cubic polynomials whose slopes at the places are the values (Hermite). */
function integralAt({ integrals, values, beyond }: CurveTable, input: number): number {
  let x = input;
  if (beyond === 'folds') x -= PERIOD * Math.round(x / PERIOD);
  else if (x >= REACH) {
    if (beyond === 'logarithm') return integrals[PLACES - 1] + logIntegral(x) - logIntegral(REACH);
    return integrals[PLACES - 1] + values[PLACES - 1] * (x - REACH);
  } else if (x <= -REACH) {
    if (beyond === 'logarithm') return logIntegral(x) - logIntegral(REACH);
    return values[0] * (x + REACH);
  }
  const place = (x + REACH) * DENSITY;
  const i = Math.min(PLACES - 2, Math.floor(place));
  const t = place - i;
  const rise = integrals[i + 1] - integrals[i];
  const a = values[i] / DENSITY;
  const b = values[i + 1] / DENSITY;
  return integrals[i] + t * (a + t * (3 * rise - 2 * a - b + t * (a + b - 2 * rise)));
}

const logIntegral = (x: number) => {
  const u = LOG_BEND * Math.abs(x);
  return ((1 + u) * Math.log1p(u) - u) / LOG_BEND ** 2;
};

/** Inputs so near to each other have the curve's value between them. */
const NEAR = 0.002;

/** What a curve remembers from one sample to the next: the input before, and its integral. */
export interface CurveState {
  input: number;
  integral: number;
  /** The table that the integral was read from. */
  table: CurveTable | undefined;
}

/**
 * Puts a signal through a curve in place, by the mean of the curve between each input and the one before: the difference of its integral over
 * that of the inputs. What lies at multiples of the rate, and would come back as aliases, is weakened as by a window as long as a sample; all
 * is half a sample later (antiderivative antialiasing: Parker, Zavalishin & Le Bivic 2016).
 */
export function runCurve(table: CurveTable, state: CurveState, signal: Float64Array, from: number, to: number): void {
  if (state.table !== table) {
    if (state.table === undefined) state.input = signal[from];
    state.integral = integralAt(table, state.input);
    state.table = table;
  }
  let before = state.input;
  let integralBefore = state.integral;
  for (let i = from; i < to; i++) {
    const x = signal[i];
    const integral = integralAt(table, x);
    const way = x - before;
    signal[i] = way > NEAR || way < -NEAR ? (integral - integralBefore) / way : table.curve(before + 0.5 * way);
    before = x;
    integralBefore = integral;
  }
  state.input = before;
  state.integral = integralBefore;
}
