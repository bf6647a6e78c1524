import { fftOfSize } from '../../dsp/fft';
import { clampToRange } from '../../parameters/parameter';
import { parameterTable } from '../../parameters/table';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { fitContour } from '../../reading/level/fitContour';
import { soundingSpan } from '../../reading/level/fittedContour';
import { quantile } from '../../reading/statistics';
import { envelopeFrom } from '../filterContour';
import { type Evidence, type Hypothesis, freedoms, route, routeId, short } from './hypothesis';
import { offsetCents } from './sources';
import { PARTIALS, followTable, levelsOf, lineOf } from './spectrumTable';

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
/** Less than this, what is left of the way is no rest. */
const LEAST_RESTING_SHARE = 0.01;

let made: Float64Array[] | undefined;

/**
 * Levels of the partials of a saw that begins anew with every period of the note, for every place of its own
 * pitch: the Fourier coefficients of that period.
 */
function syncTable(): Float64Array[] {
  if (made) return made;
  const fft = fftOfSize(POINTS);
  made = Array.from({ length: MOST_SEMITONES * STEPS_PER_SEMITONE + 1 }, (_, place) => {
    const ratio = 2 ** (place / STEPS_PER_SEMITONE / 12);
    const real = Float64Array.from({ length: POINTS }, (_unused, i) => ((ratio * (i + 0.5)) / POINTS) % 1);
    const imaginary = new Float64Array(POINTS);
    fft.forward(real, imaginary);
    return levelsOf(Float64Array.from({ length: PARTIALS }, (_unused, k) => Math.hypot(real[k + 1], imaginary[k + 1])));
  });
  return made;
}

/** How far a line goes in all, to and fro. */
const wayOf = (line: readonly number[]) => line.reduce((sum, x, i) => sum + Math.abs(x - (line[i - 1] ?? x)), 0);

/**
 * A saw that is synced to the note, whose partials tell from moment to moment how far over it its own pitch
 * stands. Empty where they are not those of such a saw.
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
  const standing = falls ? rest : quantile(semitones, 0.5);
  const overRest = (place: number) => Math.max(LEAST_RESTING_SHARE, (place / STEPS_PER_SEMITONE - rest) / range);
  const shape = falls ? fitContour(lineOf(partials, followed, overRest), true) : undefined;
  const target = { moduleId: 'source-1', parameter: 'syncSemitones' };
  const id = routeId('sync', target);
  return [
    {
      name: 'synced saw',
      stage: 'sources',
      confidence: 0.6,
      why: `the partials are those of a saw that begins anew with every period, its own pitch ${shape ? `${short(standing + range)} st over the note, falling to ${short(standing)} within ${short(shape.decaySeconds)} s` : `${short(standing)} st over the note`}`,
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
        if (shape) route(layer, envelopeFrom('sync', 'Sync fall', { ...shape, releaseSeconds: 10 }), target, range);
      },
      freedoms: [
        ...freedoms('source-1', 'sources', { syncSemitones: 0.01 }),
        ...(falls ? freedoms(id, 'sources', { amount: 0.02 }) : []),
        ...(falls ? freedoms('sync', 'sources', { decaySeconds: 0.04, sustainDb: 0.03 }) : []),
      ],
      brings: falls ? [id] : [],
    },
  ];
}
