import { soundingSpan } from '../../../reading/level/fittedContour';
import { frameAmplitudes } from '../../../reading/partials/partialFrames';
import type { Evidence } from '../hypothesis';
import { sine } from './single';
import type { StructureKind } from './structure';

/** A pitch that falls smears one line over several partials, and what weakens them. */
export const oneSine: StructureKind = ({ evidence, unfiltered }) =>
  isMostlyOneSine(evidence) ? [{ name: 'one sine', hypotheses: [sine(evidence), ...unfiltered] }] : [];

/** Under the first partial by so much, the others may be of its movement or of what is done to it. */
const FAINT_DB = -9;

/** In the second half of the sound a sine has nothing beside it. */
const ALONE_DB = -30;

function isMostlyOneSine({ note }: Evidence): boolean {
  const { partials, sources } = note.reading.traits;
  const [first, ...others] = partials.levelsDb;
  const isSine = sources.parts.length === 0 || sources.parts[0].shape === 'sine' || endsAlone(note);
  return isSine && first > -1 && others.every((level) => level < FAINT_DB);
}

/** Whether the first partial is alone once the start is over, whatever a fall of the pitch made of that. */
function endsAlone({ partials, fitted, reading }: Evidence['note']): boolean {
  if (!partials) return false;
  const [from, to] = soundingSpan(fitted, reading.durationSeconds);
  const later = [...partials.seconds.keys()].filter(
    (t) => partials.seconds[t] > (from + to) / 2 && partials.seconds[t] < to,
  );
  const isAlone = (t: number) => {
    const [first, ...others] = frameAmplitudes(partials, t);
    return others.every((a) => a < first * 10 ** (ALONE_DB / 20));
  };
  return later.length > 0 && later.filter(isAlone).length > later.length / 2;
}
