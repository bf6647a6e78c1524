import { useQuery } from '@tanstack/react-query';
import { Plus } from 'lucide-react';
import { toast } from 'sonner';
import type { Cut } from '@imprint/contract/api';
import { NO_ISOLATION } from '@imprint/core/reading/isolation/settings';
import type { RepeatedLine } from '@imprint/core/reading/piece/repeatedLines';
import { HeardPart } from '../../components/HeardPart';
import { addCutBeside, setIsolation } from '../../stores/cuts';
import { audioOf, cutOf, gridOf, readingOf, useStudyStore } from '../../stores/studyStore';
import { mediaApi, toneApi } from '../../stores/threads';
import { Part, Tick } from './scopeParts';
import { toggled, useScope } from './scopeStore';

const failed = (error: Error) => toast.error(error.message);

/** The cut that is matched: what of it, and which others are of the same tone. */
export function CutScope() {
  const cut = useStudyStore(cutOf)!;
  const cuts = useStudyStore((state) => state.cuts);
  const { otherCutIds } = useScope();
  const others = cuts.filter(({ id }) => id !== cut.id);
  return (
    <Part title="Cut">
      <p className="font-bold">{cut.name}</p>
      {cut.isolation ? <Isolated /> : <Beside cut={cut} />}
      {others.length > 0 && (
        <fieldset className="mt-2">
          <legend className="text-soft">The same tone is also in</legend>
          {others.map(({ id, name }) => (
            <Tick
              key={id}
              title={name}
              ticked={otherCutIds.includes(id)}
              onTurn={() => useScope.setState({ otherCutIds: toggled(otherCutIds, id) })}
            />
          ))}
        </fieldset>
      )}
      <OtherBars cut={cut} />
    </Part>
  );
}

/** What its isolation keeps of the cut is matched; all three can be heard. */
function Isolated() {
  const isWorking = useStudyStore((state) => state.work !== null);
  return (
    <div className="mt-1">
      <p className="text-soft">Only what its isolation keeps is matched.</p>
      <HeardPart />
      <button
        type="button"
        className="btn btn-xs btn-ghost mt-1 w-full"
        disabled={isWorking}
        onClick={() => void setIsolation(NO_ISOLATION).catch(failed)}
      >
        Match all of it
      </button>
    </div>
  );
}

/** What else sounds in the cut, and keeping it out. */
function Beside({ cut }: { cut: Cut }) {
  const reading = useStudyStore(readingOf);
  const isWorking = useStudyStore((state) => state.work !== null);
  const { data } = useQuery({
    queryKey: ['beside', cut.id, cut.fromSeconds, cut.toSeconds, reading?.notes],
    queryFn: () => toneApi().suggestIsolation(audioOf(cut), reading!),
    enabled: reading !== null,
    staleTime: Infinity,
  });
  if (!data) return null;
  return (
    <div className="mt-1 border-l-4 border-base-content bg-base-200 px-2 py-1">
      <p>{data.reason}</p>
      <button
        type="button"
        className="btn btn-xs btn-outline my-1 w-full"
        disabled={isWorking}
        onClick={() => void setIsolation(data.isolation).catch(failed)}
      >
        Match the tone alone
      </button>
    </div>
  );
}

const keyWords = (semitones: number) =>
  semitones === 0 ? 'the same key' : `${Math.abs(semitones)} st ${semitones > 0 ? 'up' : 'down'}`;

/** Bars in which the line of the cut is played again: more keys tell more of a tone. */
function OtherBars({ cut }: { cut: Cut }) {
  const grid = useStudyStore(gridOf);
  const cuts = useStudyStore((state) => state.cuts);
  const { fromSeconds, toSeconds } = cut;
  const { data } = useQuery({
    queryKey: ['repeatedLines', cut.id, fromSeconds, toSeconds, grid?.bpm],
    queryFn: async () => (await mediaApi()?.repeatedLines({ fromSeconds, toSeconds }, grid!)) ?? [],
    enabled: grid !== null,
    staleTime: Infinity,
  });
  const open = (data ?? []).filter((line) => !cuts.some((other) => isTheSame(other, line)));
  if (open.length === 0) return null;
  return (
    <section className="mt-2" aria-label="The line is played again">
      <h3 className="text-soft">The line is played again</h3>
      <ul>
        {open.map((line) => (
          <li key={line.fromSeconds}>
            <button
              type="button"
              className="flex w-full cursor-pointer items-center gap-2 py-px text-left hover:bg-base-200"
              title="Cut it, and match it together with this one"
              onClick={() => void cutToo(cut, line).catch(failed)}
            >
              <Plus size={13} className="shrink-0 text-soft" />
              <span className="grow">{keyWords(line.semitones)}</span>
              <span className="figures text-2xs text-soft">{line.fromSeconds.toFixed(1)} s</span>
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Cuts a bar in which the line is played again, and takes it into the match. */
async function cutToo(cut: Cut, { fromSeconds, toSeconds, semitones }: RepeatedLine): Promise<void> {
  // What follows notes would follow those of the other key.
  const isolation = cut.isolation && { ...cut.isolation, partialsOnly: false };
  const name = `${cut.name}, ${keyWords(semitones)}`.slice(0, 80);
  const other = await addCutBeside({ name, role: cut.role, fromSeconds, toSeconds, isolation });
  if (other) useScope.setState(({ otherCutIds }) => ({ otherCutIds: [...otherCutIds, other.id] }));
}

const SAME_SECONDS = 0.1;

const isTheSame = (cut: Cut, line: RepeatedLine) =>
  Math.abs(cut.fromSeconds - line.fromSeconds) < SAME_SECONDS &&
  Math.abs(cut.toSeconds - line.toSeconds) < SAME_SECONDS;
