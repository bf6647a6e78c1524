import { Trash } from 'lucide-react';
import { useMemo } from 'react';
import { useNavigate } from 'react-router';
import { toast } from 'sonner';
import type { Cut } from '@imprint/contract/api';
import { type CutRole, cutRoles, suggestRole } from '@imprint/core/reading/cuts/cutRole';
import { useShortcut } from '../../app/useShortcut';
import { Key } from '../../components/Key';
import { WorkProgress } from '../../components/WorkProgress';
import { ExposedMoments } from './ExposedMoments';
import { IsolationPanel } from './IsolationPanel';
import { changeCut, deleteCut, putBackCut, selectCut } from '../../stores/cuts';
import { readAllCuts } from '../../stores/readings';
import { startRun } from '../../stores/runs';
import { useStudyStore } from '../../stores/studyStore';

const fail = (error: Error) => toast.error(error.message);

async function deleteWithUndo(id: string): Promise<void> {
  const cut = useStudyStore.getState().cuts.find((other) => other.id === id);
  if (!cut) return;
  await deleteCut(id);
  toast(`“${cut.name}” is in the trash.`, {
    action: { label: 'Undo', onClick: () => void putBackCut(cut).catch(fail) },
  });
}

/** The cuts with their names and roles, and the way on from the chosen one. */
export function CutList() {
  const cuts = useStudyStore((state) => state.cuts);
  const cutId = useStudyStore((state) => state.cutId);
  const busy = useStudyStore((state) => state.work !== null);
  const navigate = useNavigate();
  const match = () => {
    if (!cutId) return;
    void startRun();
    void navigate('../match');
  };
  useShortcut('build', match, [cutId]);
  useShortcut('deleteCut', () => cutId && void deleteWithUndo(cutId).catch(fail), [cutId]);
  return (
    <aside aria-label="Cuts" className="hairline-l flex w-[262px] shrink-0 flex-col overflow-y-auto p-4">
      <h2 className="font-bold text-soft">Cuts</h2>
      {cuts.length === 0 ? (
        <p className="mt-2 text-soft">
          Drag over a note in the waveform. A good cut holds one note alone, with its attack and its whole tail.
        </p>
      ) : (
        <ul className="mt-2">
          {cuts.map((cut) => (
            <CutRow key={cut.id} cut={cut} chosen={cut.id === cutId} />
          ))}
        </ul>
      )}
      <div className="mt-5 space-y-3">
        <WorkProgress />
        {cuts.length > 0 && (
          <button type="button" className="btn btn-sm btn-neutral w-full" disabled={!cutId} onClick={match}>
            Match the cut
          </button>
        )}
        {cuts.length > 1 && (
          <button
            type="button"
            className="btn btn-xs btn-outline w-full"
            disabled={busy}
            onClick={() => void readAllCuts().catch(fail)}
          >
            Measure all cuts
          </button>
        )}
        {cuts.length > 0 && (
          <p className="text-soft">
            <Key of="build" /> does it too, and the patch that you have stays until you use what is found.
          </p>
        )}
      </div>
      <IsolationPanel />
      <ExposedMoments />
    </aside>
  );
}

function CutRow({ cut, chosen }: { cut: Cut; chosen: boolean }) {
  const { id, name, role, fromSeconds, toSeconds } = cut;
  const reading = useStudyStore(({ readings }) => readings[id]);
  const suggested = useMemo(
    () => reading && suggestRole(cut.notes ? { ...reading, notes: cut.notes } : reading),
    [reading, cut.notes],
  );
  const choose = () => !chosen && void selectCut(id);
  return (
    // By keys a cut is chosen by going into any of its fields; the whole row is a larger place for the
    // pointer.
    // oxlint-disable-next-line jsx-a11y/click-events-have-key-events, jsx-a11y/no-noninteractive-element-interactions
    <li
      onFocusCapture={choose}
      className={`hairline-b border-l-[3px] py-2 pl-2 ${chosen ? 'border-l-base-content' : 'border-l-transparent'}`}
      onClick={choose}
    >
      <div className="flex items-center gap-1">
        <input
          className="input input-xs input-ghost grow font-bold"
          aria-label="Name of the cut"
          defaultValue={name}
          key={name}
          onBlur={({ target }) =>
            target.value.trim() !== name && void changeCut(id, { name: target.value }).catch(fail)
          }
          onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
        />
        <button
          type="button"
          className="btn btn-xs btn-ghost btn-square"
          aria-label={`Delete ${name}`}
          onClick={(event) => {
            event.stopPropagation();
            void deleteWithUndo(id).catch(fail);
          }}
        >
          <Trash size={13} />
        </button>
      </div>
      <div className="mt-1 flex items-center justify-between gap-2 pl-2">
        <select
          className="select select-xs select-ghost w-28"
          aria-label="Role of the cut"
          value={role}
          onChange={({ target }) => void changeCut(id, { role: target.value as CutRole }).catch(fail)}
        >
          {cutRoles.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
        <span className="figures text-2xs text-soft">
          {fromSeconds.toFixed(2)}–{toSeconds.toFixed(2)} s
        </span>
      </div>
      {suggested && suggested.role !== role && (
        <p className="mt-1 pl-2 text-2xs text-soft">
          More like a {suggested.role}: {suggested.reason}.{' '}
          <button
            type="button"
            className="cursor-pointer underline decoration-dotted underline-offset-2"
            onClick={() => void changeCut(id, { role: suggested.role }).catch(fail)}
          >
            Take it
          </button>
        </p>
      )}
    </li>
  );
}
