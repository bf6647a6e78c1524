import { useState } from 'react';
import { useNavigate } from 'react-router';
import { closingOf } from '@imprint/core/matching/closing';
import { adviceFor } from '@imprint/core/matching/gapAdvice';
import type { Comparison } from '@imprint/core/matching/comparison';
import type { TraitId } from '@imprint/core/reading/schema';
import { Fold } from './Fold';
import { usePatchStore } from '../stores/patchStore';
import { startRun } from '../stores/runs';
import { useSelection } from '../stores/selectionStore';
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
  const [chosenTrait, setChosenTrait] = useState<string | null>(null);
  const close = traits.filter(({ gapJnd }) => gapJnd < 1).length;
  const chosen = traits.find(({ trait }) => trait === chosenTrait) ?? traits[0];
  const list = (gaps: readonly ExplainedGap[]) => (
    <GapList gaps={gaps} chosen={chosen?.trait} onChoose={setChosenTrait} />
  );
  return (
    <div aria-busy={stale}>
      <p className="mt-1 flex items-baseline gap-2">
        <span className="title text-4xl" data-testid="overall-jnd">
          {overallJnd.toFixed(1)}
        </span>
        <span className="text-soft">JND apart overall{stale ? ', printing …' : ''}</span>
      </p>
      <p className="mt-1 text-soft">
        {close} of {traits.length} traits can no longer be told apart
      </p>
      <Advice gap={chosen} isChosen={chosen?.trait === chosenTrait} />
      {list(traits.filter(({ gapJnd }) => gapJnd >= 1))}
      {close > 0 && (
        <div className="mt-4">
          <Fold id="ledger under 1 JND" title={`${close} under 1 JND`} open={false}>
            {list(traits.filter(({ gapJnd }) => gapJnd < 1))}
          </Fold>
        </div>
      )}
    </div>
  );
}

/** What a gap says, and what closes it; it stands where it is always seen. */
function Advice({ gap, isChosen }: { gap: ExplainedGap | undefined; isChosen: boolean }) {
  const patch = usePatchStore((state) => state.patch);
  const studyId = useStudyStore((state) => state.study?.id);
  const navigate = useNavigate();
  const go = (step: string) => void navigate(`/studies/${studyId}/${step}`);
  if (!gap) return null;
  if (gap.gapJnd < 1 && !isChosen)
    return <p className="mt-4">Every trait is under one JND. This is the moment to stop, or to listen blind.</p>;
  const { sentence, closes } = adviceFor(gap);
  const closing = patch && closingOf(patch, gap.group as TraitId);
  const toControl = () => {
    useSelection.setState({ layerId: patch!.layers[0].id, moduleId: closing!.moduleId });
    go('build');
  };
  const close = () => {
    void startRun({ startsFromPatch: true, structure: 'plain', only: [...closing!.stages] });
    go('match');
  };
  return (
    <div className="mt-4 border-l-[3px] pl-3" style={{ borderColor: 'var(--ink-patch)' }}>
      <p>{sentence}</p>
      <p className="mt-1 font-bold">{closes}</p>
      {closing && (
        <p className="mt-2 flex gap-2">
          <button type="button" className="btn btn-xs btn-outline" onClick={toControl}>
            To the control
          </button>
          {closing.stages.length > 0 && (
            <button
              type="button"
              className="btn btn-xs btn-outline"
              title={`A short match from the patch as it is that turns only ${closing.stages.join(' and ')}`}
              onClick={close}
            >
              Close this gap
            </button>
          )}
        </p>
      )}
    </div>
  );
}

interface GapListProps {
  gaps: readonly ExplainedGap[];
  chosen: string | undefined;
  onChoose: (trait: string) => void;
}

function GapList({ gaps, chosen, onChoose }: GapListProps) {
  return (
    <ol className="mt-3">
      {gaps.map(({ trait, label, gapJnd, explainsJnd }) => (
        <li key={trait}>
          <button
            type="button"
            aria-pressed={trait === chosen}
            className={`grid w-full cursor-pointer grid-cols-[1fr_54px_30px] items-center gap-2 py-[4px] text-left hover:bg-base-200 ${trait === chosen ? 'font-bold' : ''}`}
            title={
              explainsJnd === undefined ? label : `${label}: explains ${explainsJnd.toFixed(1)} JND of the distance`
            }
            onClick={() => onChoose(trait)}
          >
            <span className="truncate">{label}</span>
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
          </button>
        </li>
      ))}
    </ol>
  );
}
