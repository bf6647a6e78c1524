import type { Measured } from '../../../components/Ruler';
import { type EffectKind, type effectParameters } from '@imprint/core/parameters/effects/index';
import type { Envelope, Filter, Source } from '@imprint/core/patch/schema';
import type { Reading } from '@imprint/core/reading/schema';

/** A measured value with a band that is wider the less sure it is, as a ratio for times and frequencies. */
function byRatio(value: number | null, confidence: number, share = 0.15): Measured | undefined {
  if (value === null) return undefined;
  const spread = 1 + share + 0.6 * (1 - confidence);
  return { value, low: value / spread, high: value * spread };
}

function byDistance(value: number | null, confidence: number, distance: number): Measured | undefined {
  if (value === null) return undefined;
  const reach = distance * (1 + 3 * (1 - confidence));
  return { value, low: value - reach, high: value + reach };
}

type MeasuredParameters = Record<string, Measured | undefined>;

/** What the reading says about the amp contour's parameters. */
export function measuredAmp({
  traits: { loudness },
}: Reading): MeasuredParameters & Partial<Record<keyof Envelope, Measured>> {
  const { attackSeconds, holdSeconds, decaySeconds, sustainDb, releaseSeconds, confidence } = loudness;
  return {
    attackSeconds: byRatio(attackSeconds, confidence, 0.25),
    holdSeconds: byRatio(holdSeconds, confidence, 0.3),
    decaySeconds: byRatio(decaySeconds, confidence),
    sustainDb: byDistance(sustainDb, confidence, 1),
    releaseSeconds: byRatio(releaseSeconds, confidence),
  };
}

/** What the reading says about the low-pass: the lower end of a sweep is the cutoff at rest. */
export function measuredFilter({
  traits: { brightness },
}: Reading): MeasuredParameters & Partial<Record<keyof Filter, Measured>> {
  const { cutoffHz, sweep, confidence } = brightness;
  return { cutoffHz: byRatio(sweep ? Math.min(sweep.fromHz, sweep.toHz) : cutoffHz, confidence) };
}

/** What the reading says about a source: its fine tuning, and the width of a pulse. */
export function measuredSource({
  traits: { pitch, partials },
}: Reading): MeasuredParameters & Partial<Record<keyof Source, Measured>> {
  const width = partials.pulseWidth;
  return {
    cents: byDistance(pitch.cents, pitch.confidence, 1),
    pulseWidth: byDistance(width === null ? null : 100 * width, partials.confidence, 3),
  };
}

type Traits = Reading['traits'];
type Motion = Traits['motion'][number];

const movedBy = ({ motion }: Traits, ...causes: Motion['cause'][]) =>
  motion.find(({ cause }) => causes.includes(cause));

const rateOf = (moved: Motion | undefined) => (moved ? { rateHz: byRatio(moved.rateHz, moved.confidence, 0.03) } : {});

const monoBelow = ({ width }: Traits) => ({ monoBelowHz: byRatio(width.monoBelowHz, width.confidence, 0.3) });

const beside = (seconds: number | null) => (seconds === null ? null : Math.abs(seconds));

const nothing = () => ({});

/**
 * What the reading says about each kind of effect: room and echo, what moves and how fast, how wide, how
 * dirty.
 */
const measuredEffects: {
  readonly [K in EffectKind]: (traits: Traits) => { readonly [N in keyof (typeof effectParameters)[K]]?: Measured };
} = {
  reverb: ({ space }) => ({
    rt60Seconds: byRatio(space.rt60Seconds, space.confidence, 0.1),
    preDelaySeconds: byDistance(space.preDelaySeconds, space.confidence, 0.01),
  }),
  delay: ({ space }) => {
    const time = byRatio(space.echo?.seconds ?? null, space.confidence, 0.02);
    const feedback = space.echo ? 100 * space.echo.feedback : null;
    return { leftSeconds: time, rightSeconds: time, feedback: byDistance(feedback, space.confidence, 5) };
  },
  tremolo: (traits) => {
    const moved = movedBy(traits, 'tremolo', 'ducking');
    if (!moved) return {};
    // From the top to the lowest, dB, as a share of the level.
    const depth = 100 * (1 - 10 ** (-moved.depth / 20));
    return { ...rateOf(moved), depth: byDistance(depth, moved.confidence, 5) };
  },
  ducker: (traits) => {
    const moved = movedBy(traits, 'ducking');
    if (!moved) return {};
    const { depth, middle, confidence } = moved;
    return { depthDb: byDistance(depth, confidence, 1.5), belowHz: byRatio(middle, confidence, 0.3) };
  },
  chorus: (traits) => rateOf(movedBy(traits, 'chorus')),
  flanger: (traits) => rateOf(movedBy(traits, 'chorus')),
  phaser: (traits) => rateOf(movedBy(traits, 'phaser')),
  reducer: ({ dirt }) => ({
    bits: byDistance(dirt.bits, dirt.confidence, 0.3),
    rateHz: byRatio(dirt.holdHz, dirt.confidence, 0.02),
  }),
  // What reaches the other side later is told as the time between the sides.
  widener: (traits) => ({
    ...monoBelow(traits),
    crossSeconds: byDistance(beside(traits.width.delaySeconds), traits.width.confidence, 0.002),
  }),
  stereo: monoBelow,
  equalizer: nothing,
  drive: nothing,
  compressor: nothing,
  multiband: nothing,
  limiter: nothing,
  ringModulator: nothing,
  frequencyShifter: nothing,
  pitchShifter: nothing,
  vocoder: nothing,
  vowelFilter: nothing,
  resonator: nothing,
  grainDelay: nothing,
  cabinet: nothing,
};

/** What the reading says about an effect's parameters. */
export const measuredEffect = ({ traits }: Reading, kind: EffectKind): MeasuredParameters =>
  measuredEffects[kind](traits);
