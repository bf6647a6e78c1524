import { formatValue } from '@imprint/core/parameters/format';
import { isolateCut } from '../stores/cuts';
import { type Heard, hear, useIsolation } from '../stores/isolationStore';
import { cutOf, useStudyStore } from '../stores/studyStore';

const heardNames: Record<Heard, string> = { whole: 'Whole', kept: 'Kept', leftOut: 'Left out' };

/** What an isolation keeps of the chosen cut and what it leaves out, to hear, with their levels. */
export function HeardPart() {
  const cut = useStudyStore(cutOf);
  const isolated = useIsolation((state) => state.isolated);
  const heard = useIsolation((state) => state.heard);
  const busy = useStudyStore((state) => state.work !== null);
  if (!isolated || isolated.cutId !== cut?.id) {
    return (
      <button
        type="button"
        className="btn btn-xs btn-outline mt-3 w-full"
        disabled={busy}
        onClick={() => void isolateCut()}
      >
        Hear what is kept
      </button>
    );
  }
  const { keptDb, leftOutDb, residueDb } = isolated;
  const level = (db: number) => (db <= -100 ? 'silent' : formatValue(db, 'dB'));
  return (
    <>
      <div role="radiogroup" aria-label="What is heard" className="join mt-3 w-full">
        {(Object.keys(heardNames) as Heard[]).map((name) => (
          <button
            key={name}
            type="button"
            role="radio"
            aria-checked={heard === name}
            className={`btn btn-xs join-item grow ${heard === name ? 'btn-neutral' : 'btn-outline'}`}
            onClick={() => hear(cut, name)}
          >
            {heardNames[name]}
          </button>
        ))}
      </div>
      <dl className="figures mt-2 grid grid-cols-2 gap-x-2 text-2xs text-soft">
        <dt>Kept</dt>
        <dd className="text-right">{level(keptDb)}</dd>
        <dt>Left out</dt>
        <dd className="text-right">{level(leftOutDb)}</dd>
        {residueDb !== null && (
          <>
            <dt>Kept beside the notes’ partials</dt>
            <dd className="text-right">{level(residueDb)}</dd>
          </>
        )}
      </dl>
    </>
  );
}
