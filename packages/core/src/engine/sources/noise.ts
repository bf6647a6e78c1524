import { integratorGain } from '../filters/filter';
import {
  type Incoming,
  type InteractionState,
  type ModulatingState,
  createInteractionState,
  createModulatorOutput,
  spreadOutput,
  startInteraction,
} from './interaction';
import { BLOCK_SAMPLES, type LevelSlots, type SourceContext, sourceGain } from './source';

export interface NoiseSlots extends LevelSlots {
  pan: number;
  slopeDbPerOctave: number;
  lowHz: number;
  highHz: number;
  widthPercent: number;
}

export interface NoiseProgram {
  kind: 'noise';
  on: boolean;
  into: number;
  slots: NoiseSlots;
  /** Every note the same noise, or noise that runs on. */
  perNote: boolean;
  /** Whether other sources listen to it, which do not hear its level. */
  modulates: boolean;
  incoming: readonly Incoming[];
}

const PAIRS = 7;
/** The coloured band begins here; below it the spectrum is level. */
const COLOUR_FROM_HZ = 12;
/**
 * Distance of the pole-zero pairs: two octaves. The last stands over what is heard, so that the slope goes on
 * to the end.
 */
const PAIR_RATIO = 4;
/** A pair has its exact gain here, as a share of half the rate. */
const MATCHED_AT = 0.9;
/** White noise of ±1 with a level of −12 dB RMS, so that it stands beside a shape. */
const AMPLITUDE = 0.435;

interface ChannelState {
  /** Position in the random series: a 32-bit whole number. */
  random: Int32Array;
  /** Of the pole-zero pairs: last input and last output. */
  colour: Float64Array;
  /** Integrators of the band's low-pass and high-pass. */
  band: Float64Array;
}

export interface NoiseState extends ModulatingState {
  kind: 'noise';
  interaction: InteractionState;
  channels: ChannelState[];
  signals: Float64Array[];
  left: number;
  right: number;
  width: number;
}

export function createNoiseState(): NoiseState {
  return {
    kind: 'noise',
    channels: [0, 1].map(() => ({
      random: new Int32Array(1),
      colour: new Float64Array(2 * PAIRS),
      band: new Float64Array(4),
    })),
    signals: [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)],
    left: 0,
    right: 0,
    width: 0,
    interaction: createInteractionState(),
    output: createModulatorOutput(),
  };
}

export function startNoise(program: NoiseProgram, state: NoiseState, index: number, context: SourceContext): void {
  const seed = program.perNote ? index : context.seed * 31 + index;
  for (let c = 0; c < state.channels.length; c++) {
    const { random, colour, band } = state.channels[c];
    // A series must not start at 0, where it would stay.
    random[0] = Math.imul(seed + 1, 0x9e3779b1) ^ (c === 0 ? 0x2545f491 : 0x6c8e9cf5) || 1;
    colour.fill(0);
    band.fill(0);
  }
  state.output.fill(0);
  startInteraction(program.incoming, state.interaction, context.values);
  setGains(program, state, context.values);
}

function setGains({ on, slots }: NoiseProgram, state: NoiseState, values: Float64Array): void {
  const gain = sourceGain(on, slots, values);
  const angle = (Math.PI / 4) * (1 + values[slots.pan] / 100);
  state.left = gain * Math.SQRT2 * Math.cos(angle);
  state.right = gain * Math.SQRT2 * Math.sin(angle);
  state.width = values[slots.widthPercent] / 100;
}

/** Adds a block of noise: white, coloured down to brown, within its own band. */
export function renderNoise(program: NoiseProgram, state: NoiseState, context: SourceContext): void {
  const { left: l0, right: r0, width: w0 } = state;
  setGains(program, state, context.values);
  const silent = l0 === 0 && r0 === 0 && state.left === 0 && state.right === 0;
  if (silent && !program.modulates) return;
  const { left, right, from, to } = context;
  const count = to - from;
  const stereo = left !== right;
  const wide = stereo && (w0 > 0 || state.width > 0);
  for (let c = 0; c < (wide ? 2 : 1); c++) makeNoise(program, state.channels[c], state.signals[c], context);
  const a = state.signals[0];
  const b = state.signals[1];
  if (program.modulates) spreadOutput(state.output, a, context);
  for (let i = from; i < to; i++) {
    const along = (i - from + 1) / count;
    const l = l0 + along * (state.left - l0);
    if (!stereo) {
      left[i] += l * a[i];
      continue;
    }
    const w = w0 + along * (state.width - w0);
    const r = r0 + along * (state.right - r0);
    // At full width both sides are strangers; in between their power stays.
    const other = wide ? Math.sin((Math.PI / 2) * w) * b[i] : 0;
    left[i] += l * a[i];
    right[i] += r * (wide ? Math.cos((Math.PI / 2) * w) * a[i] + other : a[i]);
  }
}

function makeNoise(
  { slots }: NoiseProgram,
  { random, colour, band }: ChannelState,
  signal: Float64Array,
  { values, sampleRateHz, from, to }: SourceContext,
): void {
  let r = random[0];
  for (let i = from; i < to; i++) {
    // xorshift32 (Marsaglia 2003).
    r ^= r << 13;
    r ^= r >>> 17;
    r ^= r << 5;
    signal[i] = AMPLITUDE * (r / 2147483648);
  }
  random[0] = r;
  const slope = values[slots.slopeDbPerOctave];
  if (slope < 0) colourNoise(colour, signal, -slope / 6, sampleRateHz, from, to);
  const lowHz = values[slots.lowHz];
  const highHz = values[slots.highHz];
  if (highHz < 20000) onePole(band, 0, signal, integratorGain(highHz, sampleRateHz), false, from, to);
  if (lowHz > 20) onePole(band, 2, signal, integratorGain(lowHz, sampleRateHz), true, from, to);
}

/**
 * A slope of any fraction of 6 dB per octave by pole-zero pairs at even distances on the log axis (Smith,
 * "Closed form fractional integration by exponentially distributed pole-zero pairs"); at 1 kHz the level
 * stays.
 *
 * @param share 0 white, 1 brown
 */
function colourNoise(
  state: Float64Array,
  signal: Float64Array,
  share: number,
  sampleRateHz: number,
  from: number,
  to: number,
): void {
  let atOneKilohertz = 1;
  for (let p = 0; p < PAIRS; p++) {
    const poleHz = COLOUR_FROM_HZ * PAIR_RATIO ** p;
    const zeroHz = poleHz * PAIR_RATIO ** share;
    const a1 = matchedRoot(poleHz, sampleRateHz);
    const zero = matchedRoot(zeroHz, sampleRateHz);
    const b0 = (1 + a1) / (1 + zero);
    const b1 = b0 * zero;
    let x1 = state[2 * p];
    let y1 = state[2 * p + 1];
    for (let i = from; i < to; i++) {
      const x = signal[i];
      const y = b0 * x + b1 * x1 - a1 * y1;
      x1 = x;
      y1 = y;
      signal[i] = y;
    }
    state[2 * p] = x1;
    state[2 * p + 1] = y1;
    atOneKilohertz *= Math.sqrt((1 + (1000 / zeroHz) ** 2) / (1 + (1000 / poleHz) ** 2));
  }
  const scale = 1 / atOneKilohertz;
  for (let i = from; i < to; i++) signal[i] *= scale;
}

/**
 * The `a` of 1 + a·z⁻¹ for a pole or zero at a frequency, such that a pair of them has the gain of the
 * analogue pair at 0 and close to half the rate, where the bilinear transform would bend it (Vicanek,
 * "Matched one-pole digital shelving filters", 2019).
 */
function matchedRoot(hz: number, sampleRateHz: number): number {
  const corner = (2 * hz) / sampleRateHz;
  const matched = 1 - Math.cos(Math.PI * MATCHED_AT);
  const x = (2 / Math.PI ** 2) * (1 / MATCHED_AT ** 2 + 1 / corner ** 2) - 1 / matched;
  return -x / (1 + x + Math.sqrt(1 + 2 * x));
}

/** Two one-pole filters in a row (12 dB per octave), in place. */
function onePole(
  state: Float64Array,
  at: number,
  signal: Float64Array,
  g: number,
  highpass: boolean,
  from: number,
  to: number,
): void {
  const share = g / (1 + g);
  for (let pass = 0; pass < 2; pass++) {
    let s = state[at + pass];
    for (let i = from; i < to; i++) {
      const v = share * (signal[i] - s);
      const low = v + s;
      s = low + v;
      signal[i] = highpass ? signal[i] - low : low;
    }
    state[at + pass] = s;
  }
}
