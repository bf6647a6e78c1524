import type { Fundamental } from '../pitch/fundamental';
import { type Lines, findLines } from '../spectra/lines';
import { type FmPair, findFmPair } from './fmPair';
import { type RingPair, findRingPair } from './ringPair';

/** What makes a tone's lines stand where the partials of no single note do. */
export interface Sidebands {
  fm?: FmPair;
  ring?: RingPair;
}

/**
 * Of the lines, so many by worth have to stand beside the partials of a fundamental before others are looked
 * for.
 */
const HARMONIC_SHARE = 0.9;
const WORTH_FROM_DB = -40;
/** A fundamental whose places are mostly empty is a common divisor, not a pitch. */
const FILLED_SHARE = 0.4;
const TOLERANCE = 0.2;
/** What is multiplied is no lower than the period of the whole says. */
const LEAST_RING = 0.98;
/** A partial stands within this share of a fundamental at its place, and a little more the higher it is. */
const PARTIAL_OFF = 0.003;
const PARTIAL_OFF_EACH = 0.003;
/** A ratio that is nearer to a whole one makes a harmonic tone. */
const WHOLE_RATIO = 0.012;

/**
 * Sidebands of two sines (FM) or of a tone and a sine (ring and amplitude modulation), where the lines of a
 * note are no partials of its fundamental, or fill few of the places that it has.
 */
export function findSidebands(
  signal: Float64Array,
  sampleRateHz: number,
  fundamental: Fundamental | undefined,
  [fromSeconds, toSeconds]: readonly [number, number],
): Sidebands {
  const found = findLines(signal, sampleRateHz, fromSeconds, toSeconds);
  if (found.lines.length < 4) return {};
  const harmonic = fundamental ? harmonicShare(found, fundamental.f0Hz) : { share: 0, filled: 0, isGapped: true };
  const isHarmonic = harmonic.share > HARMONIC_SHARE;
  if (isHarmonic && harmonic.filled > FILLED_SHARE && !harmonic.isGapped) return {};
  const ring = findRingPair(found);
  // Beating voices have lines beside their partials, too; what is multiplied has a longer period than before.
  const isRing = ring !== undefined && !(fundamental && ring.f0Hz < LEAST_RING * fundamental.f0Hz);
  const pairOf = (lines: Lines) => findFmPair(signal, sampleRateHz, lines, [fromSeconds, toSeconds]);
  const fm = pairOf(found) ?? pairOf(findLines(signal, sampleRateHz, later(fromSeconds, toSeconds), toSeconds));
  const isSure = fm !== undefined && isSurelyFm(fm) && (harmonic.filled <= FILLED_SHARE || leavesGaps(fm));
  if (isRing && !isSure) return { ring };
  // A modulator that fits makes a harmonic tone, which needs none; but a low divisor fits nearly any pair.
  if (!fm || (!isSure && (isHarmonic || (fundamental && isHarmonicPair(fm, fundamental.f0Hz))))) return {};
  return isWhole(fm, found.resolutionHz) ? {} : { fm };
}

/**
 * Where an index that falls has left the height at which it starts: a sideband that goes through nothing on
 * the way changes its sign, and its line is split in two.
 */
const later = (fromSeconds: number, toSeconds: number) => fromSeconds + (toSeconds - fromSeconds) / 8;

/** What multiplies a tone makes one line to either side; an index over this makes more. */
const SEVERAL_SIDEBANDS = 0.8;
const SURELY_UNEXPLAINED = 0.01;

/**
 * A modulator between two multiples of the carrier leaves out partials of the tone's period at regular
 * distances (at a ratio of 2.5 all but 2, 3, 7, 8, 12, 13 ...), which no plain waveform does.
 */
const leavesGaps = ({ ratio }: FmPair) => ratio > 1 && Math.abs(ratio - Math.round(ratio)) > WHOLE_RATIO;

function isSurelyFm({ index, unexplained }: FmPair): boolean {
  const most = Math.max(...index.map(({ radians }) => radians));
  return unexplained < SURELY_UNEXPLAINED && most > SEVERAL_SIDEBANDS;
}

/** An index that falls moves the lines a little, and lines are known no better than they are resolved. */
function isWhole({ carrierHz, ratio }: FmPair, resolutionHz: number): boolean {
  if ([ratio, 1 / ratio].some((one) => Math.abs(one - Math.round(one)) < WHOLE_RATIO)) return true;
  // A carrier midway between two multiples of its modulator: odd partials of half of that, a hollow tone.
  if (ratio < 1 && Math.abs(2 / ratio - Math.round(2 / ratio)) < 2 * WHOLE_RATIO) return true;
  const times = Math.round(Math.max(ratio, 1 / ratio));
  const [lower, higher] = [carrierHz, ratio * carrierHz].sort((a, b) => a - b);
  return Math.abs(lower - higher / times) < resolutionHz / 2;
}

/** Whether carrier and modulator are both partials of a fundamental: then so are all of their sidebands. */
function isHarmonicPair({ carrierHz, ratio }: FmPair, f0Hz: number): boolean {
  return [carrierHz, ratio * carrierHz].every((hz) => {
    const n = Math.round(hz / f0Hz);
    return n >= 1 && Math.abs(hz / f0Hz - n) < PARTIAL_OFF + PARTIAL_OFF_EACH * n;
  });
}

/** Of the places up to the highest line, so many are empty in a spectrum with gaps. */
const GAPS_SHARE = 0.25;

/**
 * How many of the lines are partials, by how far they stand out, how many of the partials are there, and
 * whether some are missing in between, other than every second.
 */
function harmonicShare(
  { lines, resolutionHz }: Lines,
  f0Hz: number,
): { share: number; filled: number; isGapped: boolean } {
  let [all, fitting] = [0, 0];
  const places = new Set<number>();
  for (const { hz, levelDb } of lines) {
    if (levelDb < WORTH_FROM_DB) continue;
    const n = Math.round(hz / f0Hz);
    all += levelDb - WORTH_FROM_DB;
    if (n < 1 || Math.abs(hz - n * f0Hz) > TOLERANCE * Math.max(resolutionHz, 0.01 * hz)) continue;
    fitting += levelDb - WORTH_FROM_DB;
    places.add(n);
  }
  // Of hollow tones every second place is empty.
  const highest = Math.max(1, ...places);
  const isHollow = [...places].every((n) => n % 2 === 1);
  return {
    share: all > 0 ? fitting / all : 0,
    filled: places.size / Math.ceil(highest / 2) / 2,
    isGapped: !isHollow && highest - places.size >= GAPS_SHARE * highest,
  };
}
