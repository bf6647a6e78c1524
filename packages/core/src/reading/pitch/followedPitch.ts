import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { centsBetween } from '../../dsp/pitch';
import { readEvenly } from '../../dsp/sinc';
import { hann } from '../../dsp/windows';
import { type PitchTrack, framesNear } from './pitchTrack';

/** Pitch in Hz at a time in seconds. */
export type PitchAt = (seconds: number) => number;

const RANGE_CENTS = 250;
/** YIN's own scatter of a cent or two would smear high partials: small deviations are taken as none. */
const SCATTER_CENTS = 6;
/** Periods in a frame, whose partials and gaps are bins of their own. */
const PERIODS = 4;
const POINTS = 512;
/** Partials that are looked at, as many as the points tell and as lie under this. */
const MOST_PARTIALS = 48;
const HIGHEST_HZ = 8000;
/** Under the strongest of the frame nothing is looked at, power. */
const QUIET = 1e-6;
/** Of what the fundamental leaves beside its partials, a pitch that moves away from it may leave so much. */
const CLEARLY_LESS = 0.8;

/**
 * The pitch at a time: a finer one, where that is known, or the track where it is clear and near the
 * fundamental, if the partials stand at its multiples rather than at those of the fundamental; else the
 * fundamental. A resonance that moves changes the waveform from period to period, which a track of periods
 * takes for another pitch; and what moves fast it blurs.
 */
export function followPitch(
  signal: Float64Array,
  sampleRateHz: number,
  track: PitchTrack,
  f0Hz: number,
  finer?: PitchAt,
): PitchAt {
  const beside = powerBeside(signal, sampleRateHz);
  const still: PitchAt = () => f0Hz;
  const near = new Set(framesNear(track, f0Hz, RANGE_CENTS));
  const followed = Array.from(track.seconds, (at, frame) => {
    const tracked: PitchAt[] = near.has(frame) ? [() => track.f0Hz[frame]] : [];
    const away = [...(finer ? [finer] : []), ...tracked].filter(
      (pitchAt) => Math.abs(centsBetween(f0Hz, pitchAt(at))) >= SCATTER_CENTS,
    );
    if (away.length === 0) return still;
    const left = away.map((pitchAt) => beside(at, pitchAt(at)));
    const least = Math.min(...left);
    return least < CLEARLY_LESS * beside(at, f0Hz) ? away[left.indexOf(least)] : still;
  });
  const hop = track.seconds.length > 1 ? track.seconds[1] - track.seconds[0] : 1;
  return (seconds) => {
    const frame = Math.round((seconds - track.seconds[0]) / hop);
    return (followed[frame] ?? still)(seconds);
  };
}

/**
 * How much lies between the multiples of a pitch at a time, against what lies on them, 0..1 a partial: soft
 * partials say as much as loud ones, and high ones most of all.
 */
function powerBeside(signal: Float64Array, sampleRateHz: number): (seconds: number, hz: number) => number {
  const spectrum = createFrameSpectrum(POINTS, hann(POINTS));
  const { real, imaginary } = spectrum;
  const power = (bin: number) => real[bin] ** 2 + imaginary[bin] ** 2;
  return (seconds, hz) => {
    const step = (PERIODS * sampleRateHz) / hz / POINTS;
    spectrum.transform(readEvenly(signal, step, POINTS, seconds * sampleRateHz - (POINTS / 2) * step), 0);
    const count = Math.max(1, Math.min(MOST_PARTIALS, Math.floor(HIGHEST_HZ / hz)));
    const powers = Float64Array.from({ length: count }, (_, i) => power(PERIODS * (i + 1)));
    const gaps = powers.map((_, i) => power(PERIODS * (i + 1) + PERIODS / 2));
    const least = QUIET * powers.reduce((most, p, i) => Math.max(most, p, gaps[i]), 0);
    let share = 0;
    let heard = 0;
    powers.forEach((p, i) => {
      if (p + gaps[i] <= least) return;
      share += gaps[i] / (p + gaps[i]);
      heard++;
    });
    return heard > 0 ? share / heard : 0;
  };
}
