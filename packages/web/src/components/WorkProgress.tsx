import { useStudyStore } from '../stores/studyStore';
import { cancelWork } from '../stores/work';

/** Work under way with its progress and a way out; or what went wrong with it. */
export function WorkProgress() {
  const work = useStudyStore((state) => state.work);
  const failure = useStudyStore((state) => state.workFailure);
  if (failure) {
    return (
      <p role="alert" className="border-l-4 border-base-content bg-base-200 px-3 py-2">
        {failure}
      </p>
    );
  }
  if (!work) return null;
  return (
    <div role="status" className="flex flex-wrap items-center gap-x-3 gap-y-1 bg-base-200 px-3 py-2">
      <span>{work.title}</span>
      <progress className="progress w-0 min-w-24 grow" value={work.fraction} max={1} />
      <button type="button" className="btn btn-xs btn-outline" onClick={cancelWork}>
        Cancel
      </button>
    </div>
  );
}
