import { formatValue } from '@imprint/core/parameters/format';
import { useStudyStore } from '../../stores/studyStore';

/** What is less sure is called a guess. */
const SURE = 0.4;

/** Key and tuning of the piece, with the keys that fit nearly as well. */
export function KeyWords() {
  const key = useStudyStore((state) => state.piece?.key);
  if (!key) return null;
  const [best] = key.candidates;
  const tuning = Math.round(key.tuningCents);
  return (
    <>
      <span className="dropdown">
        ,{' '}
        <button tabIndex={0} type="button" className="cursor-pointer underline decoration-dotted underline-offset-4">
          {key.confidence >= SURE ? `${best.tonic} ${best.mode}` : 'no sure key'}
        </button>
        <div
          tabIndex={-1}
          className="dropdown-content hairline z-20 mt-1 w-64 bg-base-100 p-3 text-base-content shadow-md"
        >
          <p className="text-soft">How well the notes fit the keys that come nearest:</p>
          <ul className="mt-2 space-y-1">
            {key.candidates.map(({ tonic, mode, fit }) => (
              <li key={`${tonic} ${mode}`} className="flex items-center gap-2">
                <span className="w-28">
                  {tonic} {mode}
                </span>
                <span className="h-[5px] grow bg-base-300">
                  <span className="block h-full bg-reference" style={{ width: `${100 * Math.max(0, fit)}%` }} />
                </span>
                <span className="figures w-9 text-right text-2xs text-soft">{Math.round(100 * fit)} %</span>
              </li>
            ))}
          </ul>
        </div>
      </span>
      , tuned{' '}
      <span className="figures" title="How far the piece is tuned from A = 440 Hz">
        {tuning > 0 && '+'}
        {formatValue(tuning, 'ct')}
      </span>
    </>
  );
}
