/**
 * Two-pole sections by the trapezoidal state-variable filter, which stays stable while its cutoff moves
 * (Zavalishin, The Art of VA Filter Design, 4; Simper, "Linear trapezoidal SVF"). Its three outputs mixed
 * give every second-order response: at rest these are the biquads of R. Bristow-Johnson's Audio EQ Cookbook.
 */

/** Coefficients of a section: g, k = 1/Q, and the shares of input, band-pass and low-pass. */
export const SECTION = 5;

/** Two integrators a section. */
export type SectionStates = Float64Array;

export const createSections = (count: number): SectionStates => new Float64Array(2 * count);

/**
 * What is left below this is silence; without it, dying states turn into denormal numbers, which processors
 * are slow at.
 */
const FORGOTTEN = 1e-18;

export const forgetSmall = (x: number): number => (x > FORGOTTEN || x < -FORGOTTEN ? x : 0);

/**
 * Runs section `index` in place over `signal[from..to)`. The integrators' update is solved for their states,
 * which leaves the fewest operations that wait for one another: p' = (2a − 1)p + 2b(x − q), q' = 2bp + (1 −
 * 2c)q + 2cx with a = 1/(1 + g(g + k)), b = ga, c = gb.
 */
export function runSection(
  states: SectionStates,
  index: number,
  signal: Float64Array,
  from: number,
  to: number,
  at: Float64Array,
  step: Float64Array,
  moving: boolean,
): void {
  // Each loop has a function of its own: small ones are compiled to the fastest code.
  if (moving) runMoving(states, index, signal, from, to, at, step);
  else runAtRest(states, index, signal, from, to, at);
}

function runAtRest(
  states: SectionStates,
  index: number,
  signal: Float64Array,
  from: number,
  to: number,
  at: Float64Array,
): void {
  let p = states[2 * index];
  let q = states[2 * index + 1];
  const s = SECTION * index;
  const g = at[s];
  const m0 = at[s + 2];
  const m1 = at[s + 3];
  const m2 = at[s + 4];
  const a = 1 / (1 + g * (g + at[s + 1]));
  const b = g * a;
  const c = g * b;
  const pp = 2 * a - 1;
  const px = 2 * b;
  const qq = 1 - 2 * c;
  const qx = 2 * c;
  const outX = m0 + m1 * b + m2 * c;
  const outP = m1 * a + m2 * b;
  const outQ = m2 * (1 - c) - m1 * b;
  for (let i = from; i < to; i++) {
    const x = signal[i];
    signal[i] = outX * x + outP * p + outQ * q;
    const next = pp * p + (px * x - px * q);
    q = px * p + (qq * q + qx * x);
    p = next;
  }
  states[2 * index] = forgetSmall(p);
  states[2 * index + 1] = forgetSmall(q);
}

function runMoving(
  states: SectionStates,
  index: number,
  signal: Float64Array,
  from: number,
  to: number,
  at: Float64Array,
  step: Float64Array,
): void {
  let p = states[2 * index];
  let q = states[2 * index + 1];
  const s = SECTION * index;
  let g = at[s];
  let k = at[s + 1];
  let m0 = at[s + 2];
  let m1 = at[s + 3];
  let m2 = at[s + 4];
  for (let i = from; i < to; i++) {
    const a = 1 / (1 + g * (g + k));
    const b = g * a;
    const x = signal[i];
    const v1 = a * p + b * (x - q);
    const v2 = q + g * v1;
    signal[i] = m0 * x + m1 * v1 + m2 * v2;
    p = 2 * v1 - p;
    q = 2 * v2 - q;
    g += step[s];
    k += step[s + 1];
    m0 += step[s + 2];
    m1 += step[s + 3];
    m2 += step[s + 4];
  }
  states[2 * index] = forgetSmall(p);
  states[2 * index + 1] = forgetSmall(q);
}

/** Two sections at rest in one pass, whose waiting times then overlap. */
export function runTwoSections(
  states: SectionStates,
  signal: Float64Array,
  from: number,
  to: number,
  at: Float64Array,
): void {
  let p1 = states[0];
  let q1 = states[1];
  let p2 = states[2];
  let q2 = states[3];
  const a1 = 1 / (1 + at[0] * (at[0] + at[1]));
  const b1 = at[0] * a1;
  const c1 = at[0] * b1;
  const a2 = 1 / (1 + at[SECTION] * (at[SECTION] + at[SECTION + 1]));
  const b2 = at[SECTION] * a2;
  const c2 = at[SECTION] * b2;
  const x1 = at[2] + at[3] * b1 + at[4] * c1;
  const o1 = at[3] * a1 + at[4] * b1;
  const r1 = at[4] * (1 - c1) - at[3] * b1;
  const x2 = at[SECTION + 2] + at[SECTION + 3] * b2 + at[SECTION + 4] * c2;
  const o2 = at[SECTION + 3] * a2 + at[SECTION + 4] * b2;
  const r2 = at[SECTION + 4] * (1 - c2) - at[SECTION + 3] * b2;
  for (let i = from; i < to; i++) {
    const x = signal[i];
    const y = x1 * x + o1 * p1 + r1 * q1;
    const next1 = (2 * a1 - 1) * p1 + 2 * b1 * (x - q1);
    q1 = 2 * b1 * p1 + ((1 - 2 * c1) * q1 + 2 * c1 * x);
    p1 = next1;
    signal[i] = x2 * y + o2 * p2 + r2 * q2;
    const next2 = (2 * a2 - 1) * p2 + 2 * b2 * (y - q2);
    q2 = 2 * b2 * p2 + ((1 - 2 * c2) * q2 + 2 * c2 * y);
    p2 = next2;
  }
  states[0] = forgetSmall(p1);
  states[1] = forgetSmall(q1);
  states[2] = forgetSmall(p2);
  states[3] = forgetSmall(q2);
}

function setSection(
  coefficients: Float64Array,
  index: number,
  g: number,
  k: number,
  input: number,
  band: number,
  low: number,
): void {
  const c = SECTION * index;
  coefficients[c] = g;
  coefficients[c + 1] = k;
  coefficients[c + 2] = input;
  coefficients[c + 3] = band;
  coefficients[c + 4] = low;
}

/** One way to fill a section, from its integrator gain g and its damping k = 1/Q. */
export const section = {
  lowpass: (c: Float64Array, i: number, g: number, k: number) => setSection(c, i, g, k, 0, 0, 1),
  highpass: (c: Float64Array, i: number, g: number, k: number) => setSection(c, i, g, k, 1, -k, -1),
  /** Gain 1 in the middle of the band. */
  bandpass: (c: Float64Array, i: number, g: number, k: number) => setSection(c, i, g, k, 0, k, 0),
  notch: (c: Float64Array, i: number, g: number, k: number) => setSection(c, i, g, k, 1, -k, 0),
  /** One pole, as two of which a zero takes one away: 1/(s+1) = (s+1)/(s+1)². */
  onePoleLowpass: (c: Float64Array, i: number, g: number) => setSection(c, i, g, 2, 0, 1, 1),
  onePoleHighpass: (c: Float64Array, i: number, g: number) => setSection(c, i, g, 2, 1, -1, -1),
  /** @param a square root of the gain: A of the Cookbook */
  peak: (c: Float64Array, i: number, g: number, k: number, a: number) =>
    setSection(c, i, g, k / a, 1, (k / a) * (a * a - 1), 0),
  lowShelf: (c: Float64Array, i: number, g: number, k: number, a: number) =>
    setSection(c, i, g / Math.sqrt(a), k, 1, k * (a - 1), a * a - 1),
  highShelf: (c: Float64Array, i: number, g: number, k: number, a: number) =>
    setSection(c, i, g * Math.sqrt(a), k, a * a, k * (1 - a) * a, 1 - a * a),
} as const;
