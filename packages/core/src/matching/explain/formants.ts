import { effectSchema } from '../../patch/schemas/effectSchema';
import { filterSchema } from '../../patch/schemas/shapingSchema';
import type { Contour } from '../../patch/schema';
import { numbersOfBand } from '../../parameters/effects/equalizer';
import { type Resonance, fitResonances } from './formantFit';
import { type Explainer, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

const MOST_PEAKS = 4;
/** Less of a movement is none. */
const LEAST_SEMITONES = 1.5;
const FIRST_Q = 5;
export const FORMANTS = 'formants';
/** Of the structure in which resonances stand alone; others have a low-pass of their own. */
export const TOP_OF_RESONANCES = 'top';

const WAY = { id: 'vowel-way', name: 'Vowel on its way' };

/** A way that is gone evenly, from where the resonances begin; one that settles ends at them. */
const even = (seconds: number): Contour => ({
  ...WAY,
  kind: 'contour',
  points: [
    { seconds: 0, value: 0 },
    { seconds, value: 1 },
  ],
});

/** Where resonances go and which of them stay, in words. */
function movementOf(peaks: readonly Resonance[], waySeconds: number): string {
  const listed = (of: readonly Resonance[], end: 'fromHz' | 'toHz') => of.map((peak) => short(peak[end])).join(', ');
  const [going, standing] = [true, false].map((goes) => peaks.filter(({ fromHz, toHz }) => goes === (fromHz !== toHz)));
  if (going.length === 0) return `resonances stand at ${listed(standing, 'fromHz')} Hz`;
  const way = `resonances move from ${listed(going, 'fromHz')} Hz to ${listed(going, 'toHz')} Hz within ${short(waySeconds)} s`;
  return standing.length > 0 ? `${way}, beside one that stays at ${listed(standing, 'fromHz')} Hz` : way;
}

/** Resonances that stay where they are in Hz, or move by themselves: peaks of an equaliser. */
export const explainFormants: Explainer = ({ note }) => {
  const { formants } = note.reading.traits;
  const seen = [...formants.peaks].sort((a, b) => b.prominenceDb - a.prominenceDb).slice(0, MOST_PEAKS);
  if (seen.length === 0 || !note.partials) return [];
  const moving = seen.some(({ fromHz, toHz }) => Math.abs(12 * Math.log2(toHz / fromHz)) > LEAST_SEMITONES);
  const started = seen.map(({ fromHz, toHz, prominenceDb }): Resonance => {
    const hz = Math.sqrt(fromHz * toHz);
    return { fromHz: moving ? fromHz : hz, toHz: moving ? toHz : hz, db: Math.min(24, prominenceDb), q: FIRST_Q };
  });
  const startSeconds = note.fitted.onsetSeconds + note.fitted.attackSeconds;
  const { peaks, waySeconds, settles, cutoffHz } = fitResonances(
    note.partials,
    startSeconds,
    started,
    Math.max(0.05, note.reading.durationSeconds - startSeconds),
  );
  const targetOf = (i: number) => ({ moduleId: 'formants', parameter: numbersOfBand(i)[0] });
  const onTheWay = [...peaks.keys()].filter((i) => peaks[i].fromHz !== peaks[i].toHz);
  const routes = onTheWay.map((i) => routeId(WAY.id, targetOf(i)));
  return [
    {
      name: FORMANTS,
      stage: 'filter',
      confidence: formants.confidence,
      why: `${movementOf(peaks, waySeconds)}, whatever the pitch`,
      apply: (layer) => {
        const bands = Array.from({ length: 8 }, (_, i) => ({ kind: i < peaks.length ? 'bell' : 'off' }));
        const numbers = Object.fromEntries(
          peaks.flatMap(({ fromHz, toHz, db, q }, i) => {
            const names = numbersOfBand(i);
            return [Math.round(settles ? toHz : fromHz), Math.round(10 * db) / 10, Math.round(100 * q) / 100].map(
              (value, n) => [names[n], value],
            );
          }),
        );
        layer.effects.push(
          effectSchema.parse({ kind: 'equalizer', id: 'formants', name: 'Formants', bands, ...numbers }),
        );
        if (!moving) return;
        const way = settles ? fallingEnvelope(WAY.id, WAY.name, waySeconds) : even(waySeconds);
        for (const i of onTheWay) {
          const { fromHz, toHz } = peaks[i];
          const semitones = 12 * Math.log2(toHz / fromHz);
          if (settles) route(layer, way, targetOf(i), -semitones);
          else route(layer, way, targetOf(i), semitones, 'bipolar');
        }
      },
      freedoms: peaks.flatMap((_, i) => {
        const [hz, db, q] = numbersOfBand(i);
        return freedoms('formants', 'filter', { [hz]: 0.01, [db]: 0.04, [q]: 0.04 });
      }),
      brings: ['formants', ...routes],
    },
    {
      name: TOP_OF_RESONANCES,
      stage: 'filter',
      confidence: formants.confidence,
      why: `behind the resonances partials fall off over ${short(cutoffHz)} Hz by 6 dB an octave`,
      apply: (layer) => {
        const cutoff = Math.round(Math.min(20000, cutoffHz));
        layer.filters[0] = filterSchema.parse({
          kind: 'lowpass',
          id: 'filter-1',
          cutoffHz: cutoff,
          slopeDbPerOctave: 6,
        });
      },
      freedoms: freedoms('filter-1', 'filter', { cutoffHz: 0.04 }),
      brings: ['filter-1'],
    },
  ];
};
