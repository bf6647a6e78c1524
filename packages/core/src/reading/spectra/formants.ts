import { decibelsFromPower } from '../../dsp/decibels';
import type { PlainSources } from '../partials/plainSources';
import type { PartialFrames } from '../partials/partialFrames';
import { median } from '../statistics';

export interface Formant {
  fromHz: number;
  toHz: number;
  prominenceDb: number;
}

/** Stretches of a note that peaks are followed through. */
const SLICES = 16;
/** A peak has to be there in this share of them. */
const PRESENT = 0.6;
/** From one stretch to the next a peak moves by no more, octaves. */
const LINKED_OCTAVES = 0.3;
/**
 * In the middle of the note, and at any of its moments: two that come near each other have no valley between
 * them.
 */
const LEAST_PROMINENCE_DB = 6;
const FOLLOWED_PROMINENCE_DB = 1.5;
const FLOOR_DB = -50;
const MOST_PARTIALS = 60;
const LOWEST_HZ = 200;
const HIGHEST_HZ = 4500;
/** Plain waveforms that leave no more have explained the peaks. */
const EXPLAINED_DB = 1.3;
/** Two of a pulse's humps, whose middles are at odd multiples of one frequency, are no formants. */
const PULSE_TOLERANCE = 0.12;
const BROAD_DB = 7;

interface Peak {
  hz: number;
  prominenceDb: number;
}

/**
 * Two and more humps of the partials' levels, less a saw's fall of 6 dB an octave, that can be followed
 * through the note. One alone is a filter's resonance. Source: definition of formants as maxima of the
 * spectral envelope; thresholds our own.
 */
export function findFormants(
  frames: PartialFrames,
  sources: PlainSources | undefined,
  fromSeconds: number,
  toSeconds: number,
): Formant[] {
  const levels = slicesOf(frames, fromSeconds, toSeconds);
  const slices = levels.map((slice) => peaksOf(slice, frames.f0Hz));
  const formants = tracksOf(slices)
    .filter((track) => track.filter((peak) => peak !== undefined).length >= PRESENT * slices.length)
    .map((track) => {
      const there = track.filter((peak) => peak !== undefined);
      return {
        fromHz: median(there.slice(0, 2).map(({ hz }) => hz)),
        toHz: median(there.slice(-2).map(({ hz }) => hz)),
        prominenceDb: median(there.map(({ prominenceDb }) => prominenceDb)),
      };
    })
    .filter(({ prominenceDb }) => prominenceDb >= LEAST_PROMINENCE_DB)
    .sort((a, b) => a.fromHz - b.fromHz);
  if (formants.length < 2 || isPulse(formants, levels[0], frames.f0Hz)) return [];
  // What plain waveforms have, too, are no resonances, unless it moves.
  const isExplained = sources !== undefined && sources.errorDb < EXPLAINED_DB && isPlain(sources);
  return isExplained && !formants.some(moves) ? [] : formants.slice(0, 6);
}

/** A pulse beside something else can have any humps, and is rare. */
const isPlain = ({ parts }: PlainSources) => parts.length === 1 || parts.every(({ shape }) => shape !== 'pulse');

/** Peaks that move under a pitch that does not are no source's own. */
const MOVED_OCTAVES = 0.25;

export const moves = ({ fromHz, toHz }: Formant) => Math.abs(Math.log2(toHz / fromHz)) > MOVED_OCTAVES;

/** Mean levels of the partials of each stretch, dB, without a saw's fall. */
function slicesOf({ seconds, count, amplitudes }: PartialFrames, from: number, to: number): Float64Array[] {
  const used = Math.min(count, MOST_PARTIALS);
  const sums = Array.from({ length: SLICES }, () => new Float64Array(used));
  seconds.forEach((at, t) => {
    const slice = Math.floor((SLICES * (at - from)) / (to - from));
    if (slice < 0 || slice >= SLICES) return;
    for (let n = 0; n < used; n++) sums[slice][n] += (amplitudes[t * count + n] * (n + 1)) ** 2;
  });
  const loudest = Math.max(...sums.map((sum) => Math.max(...sum)));
  return sums
    .filter((sum) => Math.max(...sum) > 1e-4 * loudest)
    .map((sum) => {
      const top = Math.max(...sum);
      return withoutGaps(sum.map((power) => decibelsFromPower(power / top, FLOOR_DB)));
    });
}

/** Single partials that are missing, as those of a hollow tone, are no valleys between humps. */
const withoutGaps = (levels: Float64Array) =>
  levels.map((db, n) => (n > 0 && n < levels.length - 1 ? Math.max(db, (levels[n - 1] + levels[n + 1]) / 2) : db));

function peaksOf(levels: Float64Array, f0Hz: number): Peak[] {
  const peaks: Peak[] = [];
  for (let n = 1; n < levels.length - 1; n++) {
    if (levels[n] < levels[n - 1] || levels[n] <= levels[n + 1]) continue;
    const prominenceDb = prominenceOf(levels, n);
    const curvature = levels[n - 1] - 2 * levels[n] + levels[n + 1];
    const shift = curvature < 0 ? (levels[n - 1] - levels[n + 1]) / (2 * curvature) : 0;
    const hz = (n + 1 + shift) * f0Hz;
    if (prominenceDb >= FOLLOWED_PROMINENCE_DB && hz >= LOWEST_HZ && hz <= HIGHEST_HZ) peaks.push({ hz, prominenceDb });
  }
  return peaks;
}

/** How far one has to go down from a peak, on the shallower side, before a higher one comes. */
function prominenceOf(levels: Float64Array, peak: number): number {
  const down = (step: number) => {
    let lowest = levels[peak];
    for (let n = peak + step; n >= 0 && n < levels.length && levels[n] <= levels[peak]; n += step)
      lowest = Math.min(lowest, levels[n]);
    return levels[peak] - lowest;
  };
  return Math.min(down(-1), down(1));
}

/** Peaks of neighbouring stretches that are the same, in lines over all stretches. */
function tracksOf(slices: readonly Peak[][]): (Peak | undefined)[][] {
  const tracks: (Peak | undefined)[][] = [];
  slices.forEach((peaks, at) => {
    const open = new Set(peaks);
    for (const track of tracks) {
      const last = track.findLast((peak) => peak !== undefined)!;
      const distance = (peak: Peak) => Math.abs(Math.log2(peak.hz / last.hz));
      const nearest = [...open].sort((a, b) => distance(a) - distance(b))[0];
      const linked = nearest && distance(nearest) < LINKED_OCTAVES;
      track[at] = linked ? nearest : undefined;
      if (linked) open.delete(nearest);
    }
    for (const peak of open) {
      const track: (Peak | undefined)[] = new Array<undefined>(at).fill(undefined);
      track[at] = peak;
      tracks.push(track);
    }
  });
  return tracks;
}

function isPulse(formants: readonly Formant[], levels: Float64Array, f0Hz: number): boolean {
  const [first, second, third] = formants.map(({ fromHz }) => fromHz);
  const isMultiple = (hz: number, multiple: number) => Math.abs(hz / first / multiple - 1) < PULSE_TOLERANCE;
  // A pulse's humps are as wide as half a sine's turn; resonances are narrow.
  const at = (hz: number) => levels[Math.max(0, Math.round(hz / f0Hz) - 1)];
  const isBroad = at(first / 2) > at(first) - BROAD_DB;
  return isBroad && isMultiple(second, 3) && (third === undefined || isMultiple(third, 5));
}
