import { useEffect, useState } from 'react';
import { Link, Outlet, useLocation, useParams } from 'react-router';
import { toast } from 'sonner';
import { noteName } from '@imprint/core/dsp/pitch';
import { formatValue } from '@imprint/core/parameters/format';
import { MAX_NAME } from '@imprint/core/patch/names';
import { isOneChord } from '@imprint/core/reading/notes/chordOnsets';
import type { Reading } from '@imprint/core/reading/schema';
import { BottomBar } from '../components/BottomBar';
import { Keyboard } from '../components/Keyboard';
import { Ledger } from '../components/Ledger';
import { Conflicts } from '../components/Conflicts';
import { Message } from '../components/Message';
import { Notices } from '../components/Notices';
import { Rail } from '../components/Rail';
import { ScreenBoundary } from '../components/ScreenBoundary';
import { TransportStrip } from '../components/TransportStrip';
import { startPulse } from '../keeping/pulse';
import { selectCut } from '../stores/cuts';
import { closeStudy, openStudy, renameStudy } from '../stores/opening';
import { followRuns } from '../stores/runs';
import { keepProof } from '../stores/proofs';
import { cutOf, readingOf, useStudyStore } from '../stores/studyStore';
import { studyScreens } from './screens';
import { useSettings } from './settings';
import { useShortcut } from './useShortcut';

/** What all screens of a study share: the strip on top, the rail, the ledger, the keyboard. */
export function StudyFrame() {
  const { studyId } = useParams();
  const { pathname } = useLocation();
  const besideLedger = studyScreens.some(({ id, ledger }) => ledger && pathname.endsWith(`/${id}`));
  const status = useStudyStore((state) => state.status);
  const keyboardOpen = useSettings((settings) => settings.keyboardOpen);
  useEffect(() => {
    void openStudy(studyId!);
    return closeStudy;
  }, [studyId]);
  useEffect(() => (status === 'ready' ? startPulse(studyId!) : undefined), [studyId, status]);
  useEffect(() => (status === 'ready' ? followRuns(studyId!) : undefined), [studyId, status]);
  useShortcut('keepProof', () => void keepNextProof());
  return (
    <div className="flex h-full min-w-[1080px] flex-col">
      <header className="hairline-b flex h-[52px] shrink-0 items-center justify-between gap-4 pr-4 pl-[18px]">
        <div className="flex min-w-0 items-center gap-5">
          <Link to="/" className="title text-[22px]" aria-label="Imprint, all studies">
            <span className="text-reference-text">Im</span>
            <span className="text-patch-text">print</span>
          </Link>
          <StudyTitle />
        </div>
        <TransportStrip />
      </header>
      <div className="flex min-h-0 grow">
        <Rail steps={studyScreens} />
        <main className="flex min-w-0 grow flex-col overflow-hidden">
          {status === 'ready' && <Notices />}
          <div className="min-h-0 grow">
            <ScreenBoundary place={pathname}>{status === 'ready' ? <Outlet /> : <Opening />}</ScreenBoundary>
          </div>
        </main>
        {besideLedger && status === 'ready' && <Ledger />}
      </div>
      {keyboardOpen && <Keyboard />}
      <BottomBar />
      <Conflicts />
    </div>
  );
}

async function keepNextProof(): Promise<void> {
  const { proofs, proof } = useStudyStore.getState();
  if (!proof) {
    toast('There is nothing to keep yet: a proof needs a measured cut and a patch.');
    return;
  }
  const name = `Proof ${proofs.length + 1}`;
  await keepProof(name).then(
    () => toast(`Kept as “${name}”. It stands under Finish.`),
    (error: Error) => toast.error(`Not kept: ${error.message}`),
  );
}

function StudyTitle() {
  const study = useStudyStore((state) => state.study);
  const cuts = useStudyStore((state) => state.cuts);
  const cut = useStudyStore(cutOf);
  const reading = useStudyStore(readingOf);
  if (!study) return null;
  const pitch = pitchWords(reading);
  return (
    <>
      <Title key={study.title} title={study.title} />
      {cut && (
        <select
          className="select select-xs select-ghost w-auto max-w-44"
          aria-label="Cut"
          value={cut.id}
          onChange={(event) => void selectCut(event.target.value)}
        >
          {cuts.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      )}
      {pitch && <span className="figures shrink-0 text-soft">{pitch}</span>}
    </>
  );
}

/** The note with how far it is out of tune; of a chord its notes, whose common period nobody would name. */
function pitchWords(reading: Reading | null): string | undefined {
  if (!reading) return undefined;
  const { notes, traits } = reading;
  if (notes.length > 1 && isOneChord(notes)) {
    const rising = notes.map(({ midi }) => midi).toSorted((a, b) => a - b);
    return rising.map(noteName).join(' ');
  }
  const { midi, cents } = traits.pitch;
  return midi === null || cents === null ? undefined : `${noteName(midi)} ${formatValue(Math.round(cents), 'ct')}`;
}

/** The study's name; a click lets it be changed. */
function Title({ title }: { title: string }) {
  const [editing, setEditing] = useState(false);
  const rename = (typed: string) => {
    setEditing(false);
    if (typed.trim() !== title) renameStudy(typed);
  };
  if (!editing) {
    return (
      <h1 className="title truncate text-lg">
        <button type="button" className="cursor-text" title="Rename the study" onClick={() => setEditing(true)}>
          {title}
        </button>
      </h1>
    );
  }
  return (
    <input
      autoFocus
      className="input input-sm title w-56 text-lg"
      aria-label="Name of the study"
      maxLength={MAX_NAME}
      defaultValue={title}
      onBlur={({ target }) => rename(target.value)}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') setEditing(false);
      }}
    />
  );
}

function Opening() {
  const failure = useStudyStore((state) => state.failure);
  const loading = useStudyStore((state) => state.loading);
  if (failure) {
    return (
      <Message
        title="This study cannot be opened"
        action={
          <Link to="/" className="btn btn-sm btn-neutral">
            All studies
          </Link>
        }
      >
        <p role="alert">{failure}</p>
      </Message>
    );
  }
  return (
    <Message title={loading?.title ?? 'Opening the study'}>
      <progress className="progress w-80" value={loading?.fraction ?? 0} max={1} />
    </Message>
  );
}
