import { kernel, kernelNumbers } from '../../dsp/kernel/kernel';
import type { Shaper } from '../../patch/schema';
import { drawnAt } from './drawnLine';

export type ShaperCurve = Shaper['curve'];

/** How far the negative half of a tube goes against the positive one. */
const TUBE_LEAN = 1.6;
const DIODE_KNEE = 4;
/** With it full scale driven by 48 dB comes out just under 1. */
const LOG_BEND = kernel.LOG_BEND.value;
const SINE_STOP = Math.PI / 2;

/**
 * Output of each curve over its input, of about ±1. All have slope 1 at 0 (sine folding π/2), so quiet sounds
 * pass as they are. Soft: tanh. Tube: exponential knees of unequal height, hence even partials. Diode: the
 * negative half is held at a quarter. Sine: rounded into its stop as a quarter of a sine. Logarithmic: never
 * stops. Folding turns back at ±1, as a sine or as straight lines.
 */
const curves: Record<Exclude<ShaperCurve, 'drawn'>, (x: number) => number> = {
  soft: Math.tanh,
  hard: (x) => Math.max(-1, Math.min(1, x)),
  tube: (x) => (x >= 0 ? -Math.expm1(-x) : Math.expm1(TUBE_LEAN * x) / TUBE_LEAN),
  diode: (x) => (x >= 0 ? Math.tanh(x) : Math.tanh(DIODE_KNEE * x) / DIODE_KNEE),
  sine: (x) => (Math.abs(x) >= SINE_STOP ? Math.sign(x) : Math.sin(x)),
  logarithmic: (x) => (Math.sign(x) * Math.log1p(LOG_BEND * Math.abs(x))) / LOG_BEND,
  roundFold: (x) => Math.sin(0.5 * Math.PI * x),
  straightFold: (x) => 1 - 4 * Math.abs(0.25 * (x + 1) - Math.floor(0.25 * (x + 1)) - 0.5),
};

const REACH = kernel.REACH.value;
const DENSITY = kernel.DENSITY.value;
const PLACES = kernel.PLACES.value;
const CUBIC = kernel.CUBIC.value;
const TABLES = kernel.TABLES.value;
const TABLE_NUMBERS = kernel.TABLE_NUMBERS.value;
/** What becomes of inputs beyond a table. */
const beyondTable = {
  held: kernel.HELD.value,
  folds: kernel.FOLDS.value,
  logarithm: kernel.LOGARITHM.value,
} as const;

/** A curve as it is run: itself, and its integral from −REACH to REACH as cubic polynomials. */
export interface CurveTable {
  /** Output for one input. */
  curve: (x: number) => number;
  cubics: Float64Array;
  beyond: number;
  /** How often the rate is doubled from four times on. */
  doublings: number;
}

/** The integral is told by Simpson's rule, its slopes at the places are the curve's values (Hermite). */
function createTable(curve: (x: number) => number, beyond: keyof typeof beyondTable, doublings = 0): CurveTable {
  const cubics = new Float64Array(TABLE_NUMBERS);
  let integral = 0;
  for (let i = 0; i < PLACES; i++) {
    const x = i / DENSITY - REACH;
    const slope = curve(x) / DENSITY;
    const nextSlope = curve(x + 1 / DENSITY) / DENSITY;
    const rise = (slope + (4 * curve(x + 0.5 / DENSITY)) / DENSITY + nextSlope) / 6;
    cubics.set([integral, slope, 3 * rise - 2 * slope - nextSlope, slope + nextSlope - 2 * rise], CUBIC * i);
    integral += rise;
  }
  return { curve, cubics, beyond: beyondTable[beyond], doublings };
}

const beyondOf: { [C in ShaperCurve]?: keyof typeof beyondTable } = {
  roundFold: 'folds',
  straightFold: 'folds',
  logarithmic: 'logarithm',
};
/**
 * Driven by 48 dB a curve that folds turns back hundreds of times in a cycle; corners have the more partials.
 */
const doublingsOf: { [C in ShaperCurve]?: number } = { roundFold: 2, straightFold: 3 };

const tables = new Map<ShaperCurve, CurveTable>();

/** The table of a curve; those that are not drawn are made once. */
export function curveTableOf(curve: ShaperCurve, drawnCurve: Shaper['drawnCurve']): CurveTable {
  if (curve === 'drawn') return createTable((x) => drawnAt(drawnCurve, x), 'held');
  let table = tables.get(curve);
  if (!table) {
    table = createTable(curves[curve], beyondOf[curve] ?? 'held', doublingsOf[curve]);
    tables.set(curve, table);
  }
  return table;
}

/** Tables that are in the kernel's memory; the next one to come takes the place of the oldest. */
const placed: (CurveTable | undefined)[] = Array.from({ length: TABLES }, () => undefined);
const slots = placed.map((_, slot) => kernelNumbers('tables', TABLE_NUMBERS, slot * TABLE_NUMBERS));
let oldest = 0;

/** Slot of the kernel's memory in which a table is, now at the latest. */
export function slotOf(table: CurveTable): number {
  const known = placed.indexOf(table);
  if (known >= 0) return known;
  const slot = oldest;
  oldest = (oldest + 1) % TABLES;
  slots[slot].set(table.cubics);
  placed[slot] = table;
  return slot;
}
