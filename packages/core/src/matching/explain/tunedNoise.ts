import { filterSchema } from '../../patch/schemas/shapingSchema';
import { sourceSchema } from '../../patch/schemas/sourceSchema';
import { soundingSpan } from '../../reading/level/fittedContour';
import type { PartialFrames } from '../../reading/partials/partialFrames';
import { type Evidence, type Hypothesis, freedoms, short } from './hypothesis';

/** A narrow band has nothing at the multiples of its middle. */
const OTHERS_DB = -12;
/** The ends of a note change a line's phase, too. */
const ASIDE_SECONDS = 0.03;
const LEAST_FRAMES = 8;
/** Where frames are alike by about this much, their distance tells the width best. */
const ALIKE = 0.7;
/** A sine is narrower, noise that has no pitch wider; as shares of the frequency. */
const NARROWEST = 1 / 150;
const WIDEST = 1 / 4;
/** The note that key tracking turns around, C4. */
const PIVOT_HZ = 440 * 2 ** (-9 / 12);

/**
 * Noise through a narrow band-pass that follows the note: a line without partials whose amplitude and phase
 * wander. Empty where they do not, or go round.
 */
export function explainTunedNoise({ note }: Evidence): Hypothesis[] {
  const { partials, fitted, fundamental, reading } = note;
  const { motion, pitch, ring, fm, partials: levels } = reading.traits;
  const [first, ...others] = levels.levelsDb;
  const goesRound = motion.length > 0 || pitch.vibrato !== null || ring.rateHz !== null || fm.ratio !== null;
  if (!partials || !fundamental || goesRound) return [];
  if (others.some((level) => level > first + OTHERS_DB)) return [];
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const bandwidthHz = bandwidthOf(partials, from + ASIDE_SECONDS, to - ASIDE_SECONDS);
  const share = (bandwidthHz ?? 0) / fundamental.f0Hz;
  if (bandwidthHz === undefined || share < NARROWEST || share > WIDEST) return [];
  // Of two poles the bandwidth is the frequency over Q, and Q is 3 dB under the resonance.
  const resonanceDb = Math.min(36, Math.max(0, 3 - 20 * Math.log10(share)));
  const wandering = `its one line wanders as noise of ${short(bandwidthHz)} Hz around ${short(fundamental.f0Hz)} Hz does`;
  return [
    {
      name: 'noise',
      stage: 'sources',
      confidence: 0.6,
      why: wandering,
      apply: (layer) => {
        layer.sources.push(sourceSchema.parse({ kind: 'noise', id: 'source-1', name: 'noise' }));
      },
      freedoms: [],
      brings: [],
    },
    {
      name: 'tuned band-pass',
      stage: 'filter',
      confidence: 0.6,
      why: `${wandering}: a band-pass that follows the note`,
      isAssumed: true,
      apply: (layer) => {
        layer.filters[0] = filterSchema.parse({
          kind: 'bandpass',
          id: 'filter-1',
          cutoffHz: Math.round(10 * PIVOT_HZ) / 10,
          resonanceDb: Math.round(10 * resonanceDb) / 10,
          keyTracking: 100,
        });
      },
      freedoms: freedoms('filter-1', 'filter', { resonanceDb: 0.06 }),
      brings: ['filter-1'],
    },
  ];
}

/**
 * Width of a line, Hz, by how fast its frames grow unlike one another: of noise through one resonance the
 * autocorrelation falls by e in 1/(π·width). Undefined where there are too few frames. Source: definitions.
 */
function bandwidthOf({ seconds, amplitudes, phases, count, f0Hz }: PartialFrames, from: number, to: number) {
  const frames = [...seconds.keys()].filter((t) => seconds[t] > from && seconds[t] < to);
  if (frames.length < LEAST_FRAMES) return undefined;
  const hop = seconds[frames[1]] - seconds[frames[0]];
  const line = frames.map((t) => {
    const angle = phases[t * count] - 2 * Math.PI * f0Hz * seconds[t];
    const amplitude = amplitudes[t * count];
    return [amplitude * Math.cos(angle), amplitude * Math.sin(angle)];
  });
  const alikeAt = (lag: number) => {
    let [re, im, before, after] = [0, 0, 0, 0];
    for (let t = 0; t + lag < line.length; t++) {
      const [[a, b], [c, d]] = [line[t], line[t + lag]];
      re += a * c + b * d;
      im += a * d - b * c;
      before += a * a + b * b;
      after += c * c + d * d;
    }
    return Math.hypot(re, im) / Math.sqrt(before * after);
  };
  let lag = 1;
  while (lag < line.length / 3 && alikeAt(lag) > ALIKE) lag++;
  return -Math.log(alikeAt(lag)) / (Math.PI * lag * hop);
}
