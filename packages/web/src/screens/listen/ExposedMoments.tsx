import { Plus } from 'lucide-react';
import { toast } from 'sonner';
import type { Cut } from '@imprint/contract/api';
import { noteName } from '@imprint/core/dsp/pitch';
import { roleByLength } from '@imprint/core/reading/cuts/cutRole';
import type { ExposedMoment } from '@imprint/core/reading/cuts/exposedMoments';
import { addCut } from '../../stores/cuts';
import { goOnWithOverview, stopOverview } from '../../stores/opening';
import { useStudyStore } from '../../stores/studyStore';

const SHOWN = 6;
/** A cut that covers this share of a moment is one of it. */
const COVERED = 0.6;

/** Spots where a tone is nearly alone; each becomes a cut with one click. */
export function ExposedMoments() {
  const exposed = useStudyStore((state) => state.exposed);
  const cuts = useStudyStore((state) => state.cuts);
  const open = (exposed ?? []).filter((moment) => !cuts.some((cut) => covers(cut, moment))).slice(0, SHOWN);
  return (
    <section aria-label="Exposed moments" className="mt-6">
      <h2 className="font-bold text-soft">Exposed moments</h2>
      {exposed === null ? (
        <OverviewWork />
      ) : open.length === 0 ? (
        <p className="mt-2 text-soft">
          {exposed.length > 0
            ? 'Every one of them has a cut.'
            : 'No pitched tone stands alone in this file. A cut can still be drawn by hand.'}
        </p>
      ) : (
        <ul className="mt-1">
          {open.map((moment) => (
            <MomentRow key={moment.fromSeconds} moment={moment} />
          ))}
        </ul>
      )}
    </section>
  );
}

/** What is told of the whole file takes a while for a long one: it can be stopped, and gone on with. */
function OverviewWork() {
  const stopped = useStudyStore((state) => state.overviewStopped);
  return (
    <p className="mt-2 flex items-baseline justify-between gap-2 text-soft">
      {stopped ? 'Tempo, key and notes that are alone are not looked for.' : 'Looking for notes that are alone …'}
      <button
        type="button"
        className="btn btn-xs btn-outline shrink-0"
        onClick={() => void (stopped ? goOnWithOverview() : stopOverview())}
      >
        {stopped ? 'Look for them' : 'Stop'}
      </button>
    </p>
  );
}

function MomentRow({ moment }: { moment: ExposedMoment }) {
  const { fromSeconds, toSeconds, midi, role, score, alone, attack, tail } = moment;
  const name = `${noteName(midi)} ${role}`;
  const whole = attack && tail ? 'with its attack and tail' : attack ? 'its tail is cut off' : 'its attack is covered';
  const cut = () =>
    addCut({
      name,
      role: roleByLength(toSeconds - fromSeconds),
      fromSeconds,
      toSeconds,
    }).catch((error: Error) => toast.error(error.message));
  return (
    <li>
      <button
        type="button"
        className="hairline-b flex w-full cursor-pointer items-center gap-2 py-[6px] text-left hover:bg-base-200"
        title={`${Math.round(100 * alone)} % of it is this tone, ${whole}. Click to cut it.`}
        onClick={() => void cut()}
      >
        <Plus size={13} className="shrink-0 text-soft" />
        <span className="grow">{name}</span>
        <span className="figures text-2xs text-soft">
          {fromSeconds.toFixed(2)}–{toSeconds.toFixed(2)} s
        </span>
        <span className="h-[5px] w-8 shrink-0 bg-base-300" aria-label={`Score ${Math.round(100 * score)} %`}>
          <span className="block h-full bg-reference" style={{ width: `${100 * score}%` }} />
        </span>
      </button>
    </li>
  );
}

function covers(cut: Cut, { fromSeconds, toSeconds }: ExposedMoment): boolean {
  const shared = Math.min(cut.toSeconds, toSeconds) - Math.max(cut.fromSeconds, fromSeconds);
  return shared > COVERED * (toSeconds - fromSeconds);
}
