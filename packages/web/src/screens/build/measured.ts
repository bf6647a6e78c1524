import type { Measured } from '../../components/Ruler';
import type { EffectKind, Envelope, Filter, Source } from '@imprint/core/patch/schema';
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

type Motion = Reading['traits']['motion'][number];

/** What the reading says about an effect: room and echo, what moves and how fast, how wide, how dirty. */
export function measuredEffect(
  { traits: { space, motion, width, dirt } }: Reading,
  kind: EffectKind,
): MeasuredParameters {
  const movedBy = (...causes: Motion['cause'][]) => motion.find(({ cause }) => causes.includes(cause));
  const rateOf = (moved: Motion | undefined): MeasuredParameters =>
    moved ? { rateHz: byRatio(moved.rateHz, moved.confidence, 0.03) } : {};
  const monoBelow = { monoBelowHz: byRatio(width.monoBelowHz, width.confidence, 0.3) };
  switch (kind) {
    case 'reverb':
      return {
        rt60Seconds: byRatio(space.rt60Seconds, space.confidence, 0.1),
        preDelaySeconds: byDistance(space.preDelaySeconds, space.confidence, 0.01),
      };
    case 'delay': {
      const time = byRatio(space.echo?.seconds ?? null, space.confidence, 0.02);
      const feedback = space.echo ? 100 * space.echo.feedback : null;
      return { leftSeconds: time, rightSeconds: time, feedback: byDistance(feedback, space.confidence, 5) };
    }
    case 'tremolo': {
      const moved = movedBy('tremolo', 'ducking');
      if (!moved) return {};
      // From the top to the lowest, dB, as a share of the level.
      const depth = 100 * (1 - 10 ** (-moved.depth / 20));
      return { ...rateOf(moved), depth: byDistance(depth, moved.confidence, 5) };
    }
    case 'ducker': {
      const moved = movedBy('ducking');
      return moved ? { depthDb: byDistance(moved.depth, moved.confidence, 1.5) } : {};
    }
    case 'chorus':
    case 'flanger':
      return rateOf(movedBy('chorus'));
    case 'phasing':
      return rateOf(movedBy('phaser'));
    case 'reducer':
      return {
        bits: byDistance(dirt.bits, dirt.confidence, 0.3),
        rateHz: byRatio(dirt.holdHz, dirt.confidence, 0.02),
      };
    case 'widener':
      // What reaches the other side later is told as the time between the sides.
      return { ...monoBelow, crossSeconds: byDistance(beside(width.delaySeconds), width.confidence, 0.002) };
    case 'stereo':
      return monoBelow;
    default:
      return {};
  }
}

const beside = (seconds: number | null) => (seconds === null ? null : Math.abs(seconds));
