import { fftOfSize } from '../../dsp/fft';
import { clampToRange } from '../../parameters/parameter';
import { parameterTable } from '../../parameters/table';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { fitContour } from '../../reading/level/fitContour';
import { soundingSpan } from '../../reading/level/fittedContour';
import { quantile } from '../../reading/statistics';
import { envelopeFrom } from '../filterContour';
import type { Envelope } from '../../patch/schema';
import type { Measurement } from '../../reading/read';
import { fallOf } from './fall';
import { type Evidence, type Hypothesis, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';
import { offsetCents } from './sources';
import { explainSyncFilter } from './syncFilter';
import { type Followed, PARTIALS, followTable, levelsOf, lineOf } from './spectrumTable';

/** Places of the synced oscillator over the note; higher ones stand past the partials that are looked at. */
const STEPS_PER_SEMITONE = 4;
const MOST_SEMITONES = 48;
const POINTS = 2048;
/** What a step has to explain better, dB². */
const STEP_PRICE = 0.5;
/** Partials of a synced saw are as it makes them. */
const MOST_UNLIKE_DB = 6;
/** What stands still may be several sources as well, unless it is clear. */
const MOST_UNLIKE_STANDING_DB = 2;
/** A way that goes to and fro for longer than this, against how far it goes at all, is chance. */
const MOST_DETOURS = 1.6;
/** A saw that is synced to its own pitch is a saw: it has to stand over the note, or to move. */
const LEAST_SEMITONES = 3;
/** A fall that is told so well is one. */
const STRAIGHT_SEMITONES = 0.6;
const LASTING_SECONDS = 10;
/** Less than this, what is left of the way is no rest. */
const LEAST_RESTING_SHARE = 0.01;

let made: Float64Array[] | undefined;

/**
 * Levels of the partials of a saw that begins anew with every period of the note, for every place of its own
 * pitch: the Fourier coefficients of that period.
 */
function syncTable(): Float64Array[] {
  if (made) return made;
  made = Array.from({ length: MOST_SEMITONES * STEPS_PER_SEMITONE + 1 }, (_, place) =>
    levelsOf(partialsAt(place, PARTIALS)),
  );
  return made;
}

/** Amplitudes of the first partials at one place. */
function partialsAt(place: number, count: number): Float64Array {
  const ratio = 2 ** (place / STEPS_PER_SEMITONE / 12);
  const real = Float64Array.from({ length: POINTS }, (_, i) => ((ratio * (i + 0.5)) / POINTS) % 1);
  const imaginary = new Float64Array(POINTS);
  fftOfSize(POINTS).forward(real, imaginary);
  return Float64Array.from({ length: count }, (_, k) => Math.hypot(real[k + 1], imaginary[k + 1]));
}

/** How far a line goes in all, to and fro. */
const wayOf = (line: readonly number[]) => line.reduce((sum, x, i) => sum + Math.abs(x - (line[i - 1] ?? x)), 0);

/** The way that the pitch of the synced saw goes: an exponential fall, or as its contour is. */
function wayTo(
  rest: number,
  range: number,
  followed: Followed,
  semitones: readonly number[],
  { partials, fitted }: Measurement,
): { rest: number; range: number; envelope: Envelope } {
  const fall = fallOf(
    semitones.map((value, i) => ({ seconds: partials!.seconds[followed.frames[i]] - fitted.onsetSeconds, value })),
  );
  if (fall.rms < STRAIGHT_SEMITONES && fall.range > LEAST_SEMITONES)
    return { ...fall, envelope: fallingEnvelope('sync', 'Sync fall', fall.seconds) };
  const overRest = (place: number) => Math.max(LEAST_RESTING_SHARE, (place / STEPS_PER_SEMITONE - rest) / range);
  const contour = fitContour(lineOf(partials!, followed, overRest), true);
  return { rest, range, envelope: envelopeFrom('sync', 'Sync fall', contour) };
}

/**
 * A saw that is synced to the note, whose partials tell from moment to moment how far over it its own pitch
 * stands, and the filter behind it. Empty where they are not those of such a saw.
 */
export function explainSync(evidence: Evidence): Hypothesis[] {
  const { note, midi } = evidence;
  const { partials, fitted, reading } = note;
  if (!partials) return [];
  const from = soundingSpan(fitted, reading.durationSeconds)[0];
  const followed = followTable(partials, from, syncTable(), STEP_PRICE);
  if (!followed || followed.errorDb > MOST_UNLIKE_DB) return [];
  const semitones = followed.path.map((place) => place / STEPS_PER_SEMITONE);
  const rest = quantile(semitones, 0.05);
  const range = quantile(semitones, 0.98) - rest;
  if (Math.max(range, rest) < LEAST_SEMITONES) return [];
  const falls = range > LEAST_SEMITONES;
  if (falls ? wayOf(semitones) > MOST_DETOURS * range : followed.errorDb > MOST_UNLIKE_STANDING_DB) return [];
  const way = falls ? wayTo(rest, range, followed, semitones, note) : undefined;
  const standing = way?.rest ?? quantile(semitones, 0.5);
  const target = { moduleId: 'source-1', parameter: 'syncSemitones' };
  const id = routeId('sync', target);
  return [
    {
      name: 'synced saw',
      stage: 'sources',
      confidence: 0.6,
      why: `the partials are those of a saw that begins anew with every period, its own pitch ${way ? `${short(standing + way.range)} st over the note, falling to ${short(standing)} within ${short(way.envelope.decaySeconds)} s` : `${short(standing)} st over the note`}`,
      apply: (layer) => {
        const cents = Math.round(10 * offsetCents(reading.traits.pitch, midi)) / 10;
        layer.sources.push(
          sourceSchema.parse({
            kind: 'shape',
            id: 'source-1',
            name: 'Synced saw',
            shape: 'saw',
            cents,
            phaseShape: 'hardSync',
            syncSemitones: clampToRange(parameterTable.shape.syncSemitones, standing),
          }),
        );
        if (way) route(layer, { ...way.envelope, releaseSeconds: LASTING_SECONDS }, target, way.range);
      },
      freedoms: [
        ...freedoms('source-1', 'sources', { syncSemitones: 0.01 }),
        ...(falls ? freedoms(id, 'sources', { amount: 0.02 }) : []),
        ...(falls ? freedoms('sync', 'sources', { decaySeconds: 0.04, sustainDb: 0.03 }) : []),
      ],
      brings: falls ? [id] : [],
    },
    ...explainSyncFilter(partials, followed, partialsAt),
  ];
}
