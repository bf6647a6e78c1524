import { toast } from 'sonner';
import type { Contribution } from '@imprint/core/matching/contributions';
import { Message } from '../../components/Message';
import { WorkProgress } from '../../components/WorkProgress';
import { contributesNothing, takeOutParts, useContributions, weighParts } from '../../stores/contributions';
import { usePatchStore } from '../../stores/patchStore';
import { useStudyStore } from '../../stores/studyStore';

/** What every part of the patch does for the distance, and what could go. */
export function Parts() {
  const patch = usePatchStore((state) => state.patch);
  const cutId = useStudyStore((state) => state.cutId);
  const busy = useStudyStore((state) => state.work !== null);
  const found = useContributions((state) => state.found);
  if (!found || found.cutId !== cutId)
    return (
      <Message
        title="What does each part do?"
        action={
          !busy && (
            <button type="button" className="btn btn-sm btn-neutral" onClick={() => void weighParts()}>
              Find out
            </button>
          )
        }
      >
        <p>
          The patch is printed without each source, filter, modulator and effect in turn. What it is further away then,
          that part contributes.
        </p>
        <WorkProgress />
      </Message>
    );
  return <Table contributions={found.contributions} isOld={found.patch !== patch} />;
}

function Table({ contributions, isOld }: { contributions: readonly Contribution[]; isOld: boolean }) {
  const busy = useStudyStore((state) => state.work !== null);
  const idle = contributions.filter(contributesNothing);
  const most = Math.max(1, ...contributions.map(({ worthJnd }) => worthJnd));
  const takeOut = () => {
    takeOutParts(idle);
    toast(`${listed(idle)} taken out. Undo brings back what was there.`);
  };
  return (
    <div className="h-full overflow-y-auto p-5">
      <div className="flex items-start justify-between gap-6">
        <p className="max-w-lg">
          {idle.length === 0
            ? 'Every part contributes something.'
            : `${listed(idle)} ${idle.length === 1 ? 'contributes' : 'contribute'} nothing that can be heard over this cut.`}
        </p>
        <div className="flex shrink-0 gap-2">
          {idle.length > 0 && (
            <button type="button" className="btn btn-sm btn-neutral" disabled={isOld} onClick={takeOut}>
              Take {idle.length === 1 ? 'it' : 'them'} out
            </button>
          )}
          <button type="button" className="btn btn-sm btn-outline" disabled={busy} onClick={() => void weighParts()}>
            {isOld ? 'The patch has changed: weigh it again' : 'Weigh them again'}
          </button>
        </div>
      </div>
      <WorkProgress />
      <table className="mt-4 w-full">
        <thead>
          <tr className="hairline-b text-left text-soft">
            <th className="py-1 font-normal">Part</th>
            <th className="py-1 font-normal">Without it the patch is</th>
            <th className="py-1 text-right font-normal">further away by</th>
          </tr>
        </thead>
        <tbody>
          {contributions.map((one) => (
            <tr key={`${one.layerId} ${one.moduleId}`} className="hairline-b">
              <td className="w-[34%] py-[6px]">{one.title}</td>
              <td className="py-[6px]" aria-label="as a bar">
                <span className="relative block h-2 bg-base-200">
                  <span
                    className="absolute inset-y-0 left-0"
                    style={{
                      width: `${Math.max(0, (100 * one.worthJnd) / most)}%`,
                      background: contributesNothing(one) ? 'var(--soft)' : 'var(--ink-patch)',
                    }}
                  />
                </span>
              </td>
              <td className="figures w-32 py-[6px] text-right">
                {contributesNothing(one) && one.worthJnd > -0.05 ? 'nothing' : `${one.worthJnd.toFixed(1)} JND`}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

const listed = (parts: readonly Contribution[]) => {
  const titles = parts.map(({ title }) => title);
  return titles.length < 2 ? titles.join('') : `${titles.slice(0, -1).join(', ')} and ${titles.at(-1)}`;
};
