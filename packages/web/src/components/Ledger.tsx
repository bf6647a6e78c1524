import { adviceFor } from '@imprint/core/matching/gapAdvice';
import type { Comparison } from '@imprint/core/matching/comparison';
import type { Gap } from '@imprint/core/matching/gaps';
import { Fold } from './Fold';
import { usePatchStore } from '../stores/patchStore';
import { readingOf, useStudyStore } from '../stores/studyStore';

/** Gaps beyond this fill the bar. */
const FULL_JND = 5;

/** The sorted gaps between patch and reference, the mark at one JND, and the worst of them in words. */
export function Ledger() {
  const proof = useStudyStore((state) => state.proof);
  const printing = useStudyStore((state) => state.printing);
  const hasReading = useStudyStore((state) => readingOf(state) !== null);
  const hasPatch = usePatchStore(({ patch }) => patch !== null);
  return (
    <aside aria-label="Ledger" className="hairline-l flex w-[262px] shrink-0 flex-col overflow-y-auto p-4">
      <h2 className="font-bold text-soft">Ledger</h2>
      {proof ? (
        <Gaps stale={printing} />
      ) : (
        <p className="mt-2 text-soft">
          {!hasReading
            ? 'The gaps stand here once the cut is measured and there is a patch.'
            : !hasPatch
              ? 'There is no patch yet. Make a first one, and its gaps to the reference stand here.'
              : 'Printing the patch over the cut …'}
        </p>
      )}
    </aside>
  );
}

type ExplainedGap = Comparison['traits'][number];

function Gaps({ stale }: { stale: boolean }) {
  const { overallJnd, traits } = useStudyStore((state) => state.proof!.comparison);
  const close = traits.filter(({ gapJnd }) => gapJnd < 1).length;
  const [worst] = traits;
  return (
    <div className={stale ? 'opacity-60' : ''} aria-busy={stale}>
      <p className="mt-1 flex items-baseline gap-2">
        <span className="title text-4xl" data-testid="overall-jnd">
          {overallJnd.toFixed(1)}
        </span>
        <span className="text-soft">JND apart overall</span>
      </p>
      <p className="mt-1 text-soft">
        {close} of {traits.length} traits can no longer be told apart
      </p>
      <Advice worst={worst} />
      <GapList gaps={traits.filter(({ gapJnd }) => gapJnd >= 1)} />
      {close > 0 && (
        <div className="mt-4">
          <Fold id="ledger under 1 JND" title={`${close} under 1 JND`} open={false}>
            <GapList gaps={traits.filter(({ gapJnd }) => gapJnd < 1)} />
          </Fold>
        </div>
      )}
    </div>
  );
}

/** What the worst gap says, and what closes it; it stands where it is always seen. */
function Advice({ worst }: { worst: Gap | undefined }) {
  if (!worst) return null;
  if (worst.gapJnd < 1)
    return <p className="mt-4">Every trait is under one JND. This is the moment to stop, or to listen blind.</p>;
  const { sentence, closes } = adviceFor(worst);
  return (
    <div className="mt-4 border-l-[3px] pl-3" style={{ borderColor: 'var(--ink-patch)' }}>
      <p>{sentence}</p>
      <p className="mt-1 font-bold">{closes}</p>
    </div>
  );
}

function GapList({ gaps }: { gaps: readonly ExplainedGap[] }) {
  return (
    <ol className="mt-4 space-y-[9px]">
      {gaps.map(({ trait, label, gapJnd, explainsJnd }) => (
        <li key={trait} className="grid grid-cols-[1fr_54px_30px] items-center gap-2">
          <span
            className="truncate"
            title={
              explainsJnd === undefined ? label : `${label}: explains ${explainsJnd.toFixed(1)} JND of the distance`
            }
          >
            {label}
          </span>
          <span className="relative h-2 bg-base-200">
            <span
              className="absolute inset-y-0 left-0"
              style={{
                width: `${Math.min(100, (100 * gapJnd) / FULL_JND)}%`,
                background: gapJnd < 1 ? 'var(--soft)' : 'var(--ink-patch)',
              }}
            />
            <span className="absolute -inset-y-[2px] w-px bg-base-content" style={{ left: `${100 / FULL_JND}%` }} />
          </span>
          <span className="figures text-right">{gapJnd < 100 ? gapJnd.toFixed(1) : Math.round(gapJnd)}</span>
        </li>
      ))}
    </ol>
  );
}
