import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Cut, Study } from '@imprint/contract/api';
import { fittingName } from '@imprint/core/patch/names';
import { client } from '../api/client';
import { resolveConflict } from '../keeping/keeping';
import { useSaving } from '../keeping/savingStore';
import { takeTheirs } from '../stores/patchSaving';
import { useStudyStore } from '../stores/studyStore';
import { Dialog } from './Dialog';

/** Asks whose state counts when two windows have changed the same thing. */
export function Conflicts() {
  const [conflict] = useSaving((saving) => saving.conflicts);
  const deciding = useSaving((saving) => saving.deciding);
  const study = useStudyStore((state) => state.study);
  const navigate = useNavigate();
  if (!deciding || !conflict || !study || conflict.unsent.studyId !== study.id) return null;
  const { unsent, current } = conflict;
  const report = (error: Error) => toast.error(error.message);

  const theirs = async () => {
    if (unsent.kind === 'patch') await takeTheirs(study.id);
    else takeRow(unsent.kind, current.document);
    await resolveConflict(unsent, 'theirs');
  };
  const copy = async () => {
    if (unsent.kind !== 'patch') return;
    const made = await client.copyStudy(study.id, fittingName(`${study.title}, mine`, 'Copy'), unsent.body.patch);
    await theirs();
    toast(`Yours is “${made.title}” now.`, {
      action: { label: 'Open it', onClick: () => void navigate(`/studies/${made.id}/build`) },
      duration: 10_000,
    });
  };
  const what = unsent.kind === 'patch' ? 'The patch' : unsent.kind === 'cut' ? 'The cut' : 'The study';
  const title = `${what} was changed in another window`;
  return (
    <Dialog label={title} closeWord="Decide later" onClose={() => useSaving.setState({ deciding: false })}>
      <h2 className="title text-xl">{title}</h2>
      <p className="mt-2">
        Both windows changed {what.toLowerCase()} since the same moment. Nothing is lost: of a patch, every revision is
        kept, and what was here comes back with Undo.
      </p>
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="btn btn-sm btn-neutral" onClick={() => void theirs().catch(report)}>
          Take theirs
        </button>
        <button
          type="button"
          className="btn btn-sm btn-outline"
          onClick={() => void resolveConflict(unsent, 'mine').catch(report)}
        >
          Keep mine in its place
        </button>
        {unsent.kind === 'patch' && (
          <button type="button" className="btn btn-sm btn-outline" onClick={() => void copy().catch(report)}>
            Keep mine as a copy of the study
          </button>
        )}
      </div>
    </Dialog>
  );
}

/** Shows a cut or study as the other window left it. */
function takeRow(kind: 'cut' | 'study' | 'reading', document: unknown): void {
  const { setState } = useStudyStore;
  if (kind === 'cut') {
    const theirs = document as Cut;
    setState(({ cuts }) => ({ cuts: cuts.map((cut) => (cut.id === theirs.id ? { ...cut, ...theirs } : cut)) }));
  }
  if (kind === 'study') {
    const { title, note, grid, revision, saveId } = document as Study;
    setState(({ study }) => ({ study: study && { ...study, title, note, grid, revision, saveId } }));
  }
}
