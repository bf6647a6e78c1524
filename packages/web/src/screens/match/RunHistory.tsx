import { Trash } from 'lucide-react';
import { toast } from 'sonner';
import type { Run } from '@imprint/contract/runs';
import { Fold } from '../../components/Fold';
import { deleteRun, isOpen, shownRun, useRuns } from '../../stores/runs';
import { useStudyStore } from '../../stores/studyStore';
import { structureTitles } from './structureTitles';

const stateWords: Readonly<Record<Run['state'], string>> = {
  waiting: 'waiting',
  running: 'running',
  done: '',
  cancelled: 'ended early',
  failed: 'failed',
};

/** The matches of the study, the newest first. */
export function RunHistory() {
  const runs = useRuns((state) => state.runs)!;
  const shown = useRuns(shownRun);
  const cuts = useStudyStore((state) => state.cuts);
  if (runs.length < 2) return null;
  return (
    <div className="px-5 py-3">
      <Fold id="runs" title={`${runs.length} matches of this study`} open>
        <ul>
          {runs.map((run) => (
            <li key={run.id} className="flex items-center gap-2">
              <button
                type="button"
                aria-pressed={run.id === shown?.id}
                className={`grid grow cursor-pointer grid-cols-[1fr_110px_70px_80px] items-baseline gap-3 border-l-[3px] py-1 pl-2 text-left hover:bg-base-200 ${run.id === shown?.id ? 'border-l-base-content font-bold' : 'border-l-transparent'}`}
                onClick={() => useRuns.setState({ chosenId: run.id })}
              >
                <span className="truncate">
                  {cuts.find(({ id }) => id === run.cutIds[0])?.name ?? 'a cut that is gone'},{' '}
                  {structureTitles[run.structure].toLowerCase()}
                  {run.startsFromPatch ? ', from the patch' : ''}
                </span>
                <span className="figures text-2xs text-soft">{new Date(run.createdAt).toLocaleTimeString()}</span>
                <span className="text-soft">{stateWords[run.state]}</span>
                <span className="figures text-right">
                  {run.overallJnd === null ? '–' : `${run.overallJnd.toFixed(1)} JND`}
                </span>
              </button>
              <button
                type="button"
                className="btn btn-xs btn-ghost btn-square"
                aria-label={`Delete the match of ${new Date(run.createdAt).toLocaleTimeString()}`}
                disabled={isOpen(run)}
                onClick={() => void deleteRun(run.id).catch((error: Error) => toast.error(error.message))}
              >
                <Trash size={13} />
              </button>
            </li>
          ))}
        </ul>
      </Fold>
    </div>
  );
}
