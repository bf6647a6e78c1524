import { clampToRange } from '../parameters/parameter';
import { parameterTable } from '../parameters/table';
import { defaultEnvelope } from '../patch/defaults';
import { compileEnvelope, envelopeValue } from '../patch/envelopeCurve';
import type { Envelope } from '../patch/schema';
import { fitContour } from '../reading/level/fitContour';
import { type FittedContour, soundingSpan } from '../reading/level/fittedContour';
import type { Measurement } from '../reading/read';
import type { FilterTrack } from '../reading/spectra/filterTrack';
import { type FallingPoint, bentFallOf, fallOf } from './explain/fall';
import { steadyOctaves } from '../reading/spectra/steadyCutoff';
import { quantile } from '../reading/statistics';

/** Cutoff movement, in octaves, under which a filter contour would explain nothing. */
const MIN_FILTER_OCTAVES = 0.4;

/** A fitted contour as an envelope. */
export function envelopeFrom(id: string, name: string, fitted: FittedContour): Envelope {
  const { attackSeconds, holdSeconds, decaySeconds, sustainDb } = parameterTable.envelope;
  return {
    ...defaultEnvelope(id, name),
    attackSeconds: clampToRange(attackSeconds, fitted.attackSeconds),
    holdSeconds: clampToRange(holdSeconds, fitted.holdSeconds),
    decaySeconds: clampToRange(decaySeconds, fitted.decaySeconds),
    sustainDb: clampToRange(sustainDb, fitted.sustainDb),
    ...(fitted.releaseSeconds === null ? {} : { releaseSeconds: Math.max(0.005, fitted.releaseSeconds) }),
  };
}

export interface FilterContour {
  envelope: Envelope;
  restHz: number;
  semitones: number;
  noteOffSeconds: number;
}

/** What has fallen further is closed already. */
const LEAST_SUSTAIN_DB = -40;
const LASTING_SECONDS = 10;

/** When the first repeat of an echo comes, which brings back what the note was at its start. */
const firstRepeatSeconds = ({ fitted, reading }: Measurement): number =>
  fitted.onsetSeconds + (reading.traits.space.echo?.seconds ?? Infinity);

/** As near as a fall has to come to the cutoffs, octaves. */
const NEAR_FALL = 0.2;

/**
 * The fall of a cutoff whose end is not seen, since an echo comes before it: the one through what is, which
 * goes on. Undefined where nothing comes, or it is no fall.
 */
function fallUntilRepeat(note: Measurement, octaves: Float64Array, to: number) {
  const { filter, fundamental, fitted } = note;
  if (firstRepeatSeconds(note) >= to) return undefined;
  const lowest = Math.log2(fundamental!.f0Hz);
  const points = Array.from(octaves, (octave, i) => ({
    seconds: filter!.seconds[i] - fitted.onsetSeconds,
    value: octave - lowest,
  })).filter(({ seconds, value }) => seconds >= 0 && Number.isFinite(value));
  if (points.length < 6) return undefined;
  const { rest, range, seconds, rms } = fallOf(points);
  if (range < MIN_FILTER_OCTAVES || rms > NEAR_FALL) return undefined;
  const { cutoffHz } = parameterTable.lowpass;
  return {
    envelope: {
      ...defaultEnvelope('filter-contour', 'Filter contour'),
      attackSeconds: 0,
      decaySeconds: clampToRange(parameterTable.envelope.decaySeconds, seconds),
      sustainDb: parameterTable.envelope.sustainDb.min,
    },
    restHz: clampToRange(cutoffHz, 2 ** (rest + lowest)),
    semitones: Math.round(120 * range) / 10,
  };
}

/** The cutoff's movement as an envelope over a resting cutoff; undefined when it hardly moves. */
export function filterContour(note: Measurement): FilterContour | undefined {
  const { filter, fundamental, fitted, reading, partials } = note;
  if (!filter || !fundamental) return undefined;
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const octaves = steadyOctaves(filter, partials, firstRepeatSeconds(note));
  const cutShort = fallUntilRepeat(note, octaves, to);
  const points = pointsWithin(filter, octaves, from, to);
  if (cutShort) {
    const contour = { ...cutShort, noteOffSeconds: to - from };
    return nearerFall(contour, points, fundamental.f0Hz) ?? contour;
  }
  const heard = octaves.filter(
    (octave, i) => Number.isFinite(octave) && filter.seconds[i] >= from && filter.seconds[i] <= to,
  );
  if (heard.length < 6) return undefined;
  const rest = quantile(heard, 0.08);
  const range = quantile(heard, 0.96) - rest;
  if (range < MIN_FILTER_OCTAVES) return undefined;
  const hopSeconds = filter.seconds[1] - filter.seconds[0];
  const end = octaves.findLastIndex((octave, i) => Number.isFinite(octave) && filter.seconds[i] <= to) + 1;
  let last = 0;
  const rms = new Float64Array(end);
  for (let i = 0; i < end; i++) {
    if (Number.isFinite(octaves[i])) last = Math.max(0, (octaves[i] - rest) / range);
    rms[i] = filter.seconds[i] < from ? 0 : last;
  }
  const shape = fitContour({ hopSeconds, windowSeconds: hopSeconds, rms }, true);
  // A frame of partials is four periods long: a faster rise was not seen, and would open the filter behind
  // the table's back.
  if (shape.attackSeconds < 4 / fundamental.f0Hz + hopSeconds) shape.attackSeconds = 0;
  const full = Math.min(1.5, shape.fullRms);
  const envelope = envelopeFrom('filter-contour', 'Filter contour', shape);
  // That the filter closes once the key is let go is not heard for the level that falls there.
  if (shape.sustainDb > LEAST_SUSTAIN_DB) envelope.releaseSeconds = LASTING_SECONDS;
  const asFitted = {
    envelope,
    restHz: clampToRange(parameterTable.lowpass.cutoffHz, 2 ** rest),
    semitones: Math.round(12 * range * full * 10) / 10,
    noteOffSeconds: to - from,
  };
  return nearerFall(asFitted, points, fundamental.f0Hz) ?? asFitted;
}

/** Cutoffs in octaves, since a time. */
const pointsWithin = ({ seconds }: FilterTrack, octaves: Float64Array, from: number, to: number): FallingPoint[] =>
  Array.from(octaves, (value, i) => ({ seconds: seconds[i] - from, value })).filter(
    (point) => Number.isFinite(point.value) && point.seconds >= 0 && point.seconds <= to - from,
  );

/** A contour that leaves less, octaves, is near enough; another fall has to leave so much less. */
const NEAR_OCTAVES = 0.1;
const CLEARLY_LESS = 0.75;
/** A curve of its own has to leave so much less than an exponential, and may not come from everywhere. */
const BENT_LESS = 0.75;
const MOST_OCTAVES = 8;

/**
 * The same fall by least squares in octaves, where that comes clearly nearer than a contour that was fitted
 * as levels are; undefined where it does not.
 */
function nearerFall(
  { envelope, restHz, semitones, noteOffSeconds }: FilterContour,
  points: readonly FallingPoint[],
  lowestHz: number,
): FilterContour | undefined {
  if (envelope.attackSeconds > 0 || points.length < 6) return undefined;
  const program = compileEnvelope(envelope);
  const left = points.map(
    ({ seconds, value }) => value - Math.log2(restHz) - (semitones / 12) * envelopeValue(program, seconds),
  );
  const rms = Math.sqrt(left.reduce((sum, x) => sum + x * x, 0) / points.length);
  if (rms < NEAR_OCTAVES) return undefined;
  const lowest = Math.log2(lowestHz);
  const over = points.map(({ seconds, value }) => ({ seconds, value: value - lowest }));
  const exponential = fallOf(over);
  const bent = bentFallOf(over);
  const isBent = bent && bent.rms < BENT_LESS * exponential.rms && bent.range < MOST_OCTAVES;
  const fall = isBent ? bent : exponential;
  if (fall.rms > CLEARLY_LESS * rms || fall.range < MIN_FILTER_OCTAVES || fall.range > MOST_OCTAVES) return undefined;
  const { decaySeconds, sustainDb } = parameterTable.envelope;
  return {
    envelope: {
      ...envelope,
      holdSeconds: 0,
      decaySeconds: clampToRange(decaySeconds, fall.seconds),
      decayCurve: fall.curve,
      sustainDb: sustainDb.min,
    },
    restHz: clampToRange(parameterTable.lowpass.cutoffHz, 2 ** (fall.rest + lowest)),
    semitones: Math.round(120 * fall.range) / 10,
    noteOffSeconds,
  };
}
