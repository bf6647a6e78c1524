import { decibelsFromGain } from '../../dsp/decibels';
import { curveTableOf } from '../../engine/shaping/shaperCurves';
import { parameterTable } from '../../parameters/table';
import { clampToRange } from '../../parameters/parameter';
import { fitContour } from '../../reading/level/fitContour';
import { soundingSpan } from '../../reading/level/fittedContour';
import { envelopeFrom } from '../filterContour';
import { type Curve, curves } from './dirt';
import { type Evidence, type Hypothesis, freedoms, route, routeId, short } from './hypothesis';
import { PARTIALS, followTable, levelsOf, lineOf } from './spectrumTable';

/** Amplitudes that a sine may have before a curve, in steps of the same ratio. */
const LEAST_AMPLITUDE = 0.05;
const STEPS_PER_OCTAVE = 8;
const OCTAVES = 10;
const amplitudes = Float64Array.from(
  { length: STEPS_PER_OCTAVE * OCTAVES + 1 },
  (_, i) => LEAST_AMPLITUDE * 2 ** (i / STEPS_PER_OCTAVE),
);

/** Points of a quarter of a period. */
const POINTS = 256;
/** What an amplitude that jumps by an octave has to explain better, dB². */
const JUMP_PRICE = 20;
/** Partials of a sine behind a curve are as the curve makes them. */
const MOST_UNLIKE_DB = 5;
/** Less than this the amplitude does not fall. */
const LEAST_FALL_DB = -1;

const tables = new Map<Curve, Float64Array[]>();

/**
 * What a curve makes of a sine of every amplitude: its Fourier coefficients, by the mean of many points of a
 * quarter of the period. Curves that are as steep on one side as on the other make no even ones.
 */
function tableOf(kind: Curve): Float64Array[] {
  const known = tables.get(kind);
  if (known) return known;
  const { curve } = curveTableOf(curves[kind], []);
  const table = Array.from(amplitudes, (amplitude) =>
    levelsOf(
      Float64Array.from({ length: PARTIALS }, (_, k) => {
        if (k % 2 === 1) return 0;
        let sum = 0;
        for (let i = 0; i < POINTS; i++) {
          const angle = (Math.PI * (i + 0.5)) / (2 * POINTS);
          sum += curve(amplitude * Math.sin(angle)) * Math.sin((k + 1) * angle);
        }
        return sum;
      }),
    ),
  );
  tables.set(kind, table);
  return table;
}

/** A sine before a curve. */
export interface Push {
  hypothesis: Hypothesis;
  /** How it dies away before the curve once the key is let go; null where it is ended behind the curve. */
  releaseSeconds: number | null;
}

/**
 * How far a sine is pushed into a curve from moment to moment, which its partials tell: those of one
 * amplitude are those of no other. Undefined where they are not what the curve makes of any sine.
 */
export function explainPush({ note }: Evidence, kind: Curve): Push | undefined {
  const { partials, fitted, reading } = note;
  if (!partials) return undefined;
  const followed = followTable(
    partials,
    // A pitch that falls smears the frames that it falls in.
    soundingSpan(fitted, reading.durationSeconds)[0] + (reading.traits.pitch.sweep?.seconds ?? 0),
    tableOf(kind),
    JUMP_PRICE / STEPS_PER_OCTAVE,
  );
  if (!followed || followed.errorDb > MOST_UNLIKE_DB) return undefined;
  const fall = fitContour(lineOf(partials, followed, (place) => amplitudes[place]));
  const amplitude = Math.max(...followed.path.map((place) => amplitudes[place]));
  const falls = fall.sustainDb < LEAST_FALL_DB;
  const target = { moduleId: 'source-1', parameter: 'letThrough' };
  const id = routeId('push', target);
  const { releaseSeconds } = fall;
  const hypothesis: Hypothesis = {
    name: 'push',
    stage: 'dirt',
    confidence: 0.7,
    why: `the partials are those of a sine of ${short(decibelsFromGain(amplitude))} dB before the curve${falls ? `, which falls within ${short(fall.decaySeconds)} s: the tone grows plainer as it gets softer` : ''}`,
    apply: (layer) => {
      const pushDb = decibelsFromGain(amplitude);
      const [source] = layer.sources;
      // A curve is driven, not held back: a soft sine comes to it softly.
      source.levelDb = Math.min(0, pushDb);
      layer.shaper.driveDb = clampToRange(parameterTable.shaper.driveDb, pushDb);
      if (!falls && releaseSeconds === null) return;
      source.letThrough = 0;
      const envelope = envelopeFrom('push', 'Push', { ...fall, attackSeconds: 0 });
      const { max } = parameterTable.envelope.releaseSeconds;
      route(layer, releaseSeconds === null ? { ...envelope, releaseSeconds: max } : envelope, target, 100);
    },
    freedoms: [
      ...freedoms('shaper', 'dirt', { driveDb: 0.03 }),
      ...(falls ? freedoms('push', 'dirt', { decaySeconds: 0.03, sustainDb: 0.02 }) : []),
      ...(releaseSeconds === null ? [] : freedoms('push', 'dirt', { releaseSeconds: 0.03 })),
    ],
    brings: falls || releaseSeconds !== null ? [id] : [],
  };
  return { hypothesis, releaseSeconds };
}
