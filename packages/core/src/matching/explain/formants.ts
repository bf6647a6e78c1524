import { effectSchema } from '../../patch/effectSchema';
import { numbersOfBand } from '../../parameters/effects/equalizer';
import { type Explainer, freedoms, route, routeId, short } from './hypothesis';

const MOST_PEAKS = 4;
/** Less of a movement is none. */
const LEAST_SEMITONES = 1.5;
const FIRST_Q = 5;

/** Resonances that stay where they are in Hz, or move by themselves: peaks of an equaliser. */
export const explainFormants: Explainer = ({ note }) => {
  const { formants } = note.reading.traits;
  const peaks = [...formants.peaks].sort((a, b) => b.prominenceDb - a.prominenceDb).slice(0, MOST_PEAKS);
  if (peaks.length === 0) return [];
  const ways = peaks.map(({ fromHz, toHz }) => 12 * Math.log2(toHz / fromHz));
  const moving = ways.some((way) => Math.abs(way) > LEAST_SEMITONES);
  const seconds = Math.max(0.05, note.reading.durationSeconds - note.fitted.onsetSeconds);
  const targetOf = (i: number) => ({ moduleId: 'formants', parameter: numbersOfBand(i)[0] });
  const routes = moving ? peaks.map((_, i) => routeId('vowel-way', targetOf(i))) : [];
  return [
    {
      name: 'formants',
      stage: 'filter',
      confidence: formants.confidence,
      why: `resonances ${moving ? 'move from' : 'stand at'} ${peaks.map(({ fromHz }) => short(fromHz)).join(', ')} Hz${moving ? ` to ${peaks.map(({ toHz }) => short(toHz)).join(', ')} Hz` : ''}, whatever the pitch`,
      apply: (layer) => {
        const bands = Array.from({ length: 8 }, (_, i) => ({ kind: i < peaks.length ? 'bell' : 'off' }));
        const numbers = Object.fromEntries(
          peaks.flatMap(({ fromHz, prominenceDb }, i) => {
            const [hz, db, q] = numbersOfBand(i);
            return [
              [hz, Math.round(fromHz)],
              [db, Math.min(24, Math.round(prominenceDb))],
              [q, FIRST_Q],
            ];
          }),
        );
        layer.effects.push(
          effectSchema.parse({ kind: 'equalizer', id: 'formants', name: 'Formants', bands, ...numbers }),
        );
        if (!moving) return;
        const points = [
          { seconds: 0, value: 0 },
          { seconds, value: 1 },
        ];
        const way = { kind: 'contour' as const, id: 'vowel-way', name: 'Vowel on its way', points };
        ways.forEach((semitones, i) => route(layer, way, targetOf(i), semitones, 'bipolar'));
      },
      freedoms: peaks.flatMap((_, i) => {
        const [hz, db, q] = numbersOfBand(i);
        return freedoms('formants', 'filter', { [hz]: 0.015, [db]: 0.06, [q]: 0.06 });
      }),
      brings: ['formants', ...routes],
    },
  ];
};
