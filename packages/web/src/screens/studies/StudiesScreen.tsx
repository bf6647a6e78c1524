import { useQuery, useQueryClient } from '@tanstack/react-query';
import { FilePlus, Moon, Sun, Trash } from 'lucide-react';
import { useState } from 'react';
import { useDropzone } from 'react-dropzone';
import { Link, useNavigate } from 'react-router';
import { toast } from 'sonner';
import { MAX_UPLOAD_BYTES, type Study, TRASH_DAYS } from '@imprint/contract/api';
import { client } from '../../api/client';
import { useSettings } from '../../app/settings';
import { useShortcut } from '../../app/useShortcut';
import { Message } from '../../components/Message';
import { Unshowable } from '../../components/Unshowable';

/** The list of studies, and where a new reference comes in. */
export function StudiesScreen() {
  const studies = useQuery({ queryKey: ['studies'], queryFn: client.studies });
  const { theme, setTheme } = useSettings();
  const { uploading, failure, upload } = useUpload();
  const drop = useDropzone({
    onDrop: ([file]) => file && void upload(file),
    multiple: false,
    noClick: true,
    noKeyboard: true,
  });
  const flipTheme = () => setTheme(theme === 'paper' ? 'night' : 'paper');
  useShortcut('theme', flipTheme, [theme]);
  return (
    <div {...drop.getRootProps({ className: 'flex h-full flex-col overflow-y-auto' })}>
      <input {...drop.getInputProps({ 'aria-label': 'Reference file' })} />
      <header className="hairline-b flex items-end justify-between px-12 pt-10 pb-6">
        <div>
          <h1 className="title text-5xl">
            <span className="text-reference-text">Im</span>
            <span className="text-patch-text">print</span>
          </h1>
          <p className="mt-2 max-w-xl text-base text-soft">
            A tone goes in, a patch comes out, and beside every control stands what was measured.
          </p>
        </div>
        <div className="flex items-center gap-2">
          <button
            type="button"
            className="btn btn-sm btn-ghost"
            onClick={flipTheme}
            aria-label={theme === 'paper' ? 'Night' : 'Paper'}
          >
            {theme === 'paper' ? <Moon size={15} /> : <Sun size={15} />}
          </button>
          <button type="button" className="btn btn-sm btn-neutral" onClick={drop.open} disabled={uploading !== null}>
            <FilePlus size={15} /> New study from a file
          </button>
        </div>
      </header>
      {failure && (
        <p role="alert" className="mx-12 mt-5 border-l-4 border-base-content bg-base-200 px-4 py-3">
          <strong>{failure.file}</strong> was not taken. {failure.message}
        </p>
      )}
      {uploading && (
        <div role="status" className="mx-12 mt-5 flex items-center gap-3 bg-base-200 px-4 py-3">
          Taking in {uploading} <progress className="progress w-64" />
        </div>
      )}
      <main className="grow px-12 py-6">
        {studies.isPending && <Message title="Looking for your studies" />}
        {studies.isError && (
          <Message
            title="The studies cannot be shown"
            action={
              <button type="button" className="btn btn-sm btn-neutral" onClick={() => void studies.refetch()}>
                Try again
              </button>
            }
          >
            <p role="alert">{studies.error.message}</p>
          </Message>
        )}
        {studies.data && studies.data.shown.length + studies.data.unshown.length === 0 && (
          <Message title="No study yet">
            <p>
              A study is one reference and the patch that is rebuilt from it. Drop a sound file anywhere on this page,
              or choose one.
            </p>
          </Message>
        )}
        {studies.data && studies.data.shown.length > 0 && <StudyTable studies={studies.data.shown} />}
        {studies.data && <Unshowable rows={studies.data.unshown} what="study" />}
      </main>
      <footer className="flex items-baseline justify-between gap-6 px-12 pb-6 text-soft">
        <p>
          Drop a WAV, AIFF, FLAC, MP3, Ogg Vorbis or Opus file of up to 15 minutes anywhere. It stays on this machine.
        </p>
        <Link to="/keeping" className="shrink-0 underline underline-offset-4 hover:text-base-content">
          Trash and archive
        </Link>
      </footer>
      {drop.isDragActive && (
        <div className="pointer-events-none fixed inset-4 flex items-center justify-center border-4 border-dashed border-base-content bg-base-100/90">
          <p className="title text-3xl">Let go to start a study</p>
        </div>
      )}
    </div>
  );
}

function useUpload() {
  const [uploading, setUploading] = useState<string | null>(null);
  const [failure, setFailure] = useState<{ file: string; message: string } | null>(null);
  const navigate = useNavigate();
  const queries = useQueryClient();

  async function upload(file: File, again = false): Promise<void> {
    setFailure(null);
    if (file.size > MAX_UPLOAD_BYTES) {
      setFailure({
        file: file.name,
        message: `It is larger than the ${Math.floor(MAX_UPLOAD_BYTES / 1e6)} MB that can be taken.`,
      });
      return;
    }
    setUploading(file.name);
    try {
      const { study, alreadyKnown } = await client.upload(file, again);
      await queries.invalidateQueries({ queryKey: ['studies'] });
      if (alreadyKnown) {
        toast(`This file is here already, as “${study.title}”.`, {
          action: { label: 'Start another study', onClick: () => void upload(file, true) },
          duration: 8000,
        });
      }
      if (study.reference.notice) toast(`${file.name}: ${study.reference.notice}`, { duration: 12_000 });
      void navigate(`/studies/${study.id}/listen`);
    } catch (error) {
      setFailure({ file: file.name, message: (error as Error).message });
    } finally {
      setUploading(null);
    }
  }
  return { uploading, failure, upload };
}

function StudyTable({ studies }: { studies: Study[] }) {
  return (
    <table className="w-full max-w-6xl">
      <thead>
        <tr className="hairline-b text-left text-soft">
          <th className="py-2 font-normal">Study</th>
          <th className="font-normal">Tone</th>
          <th className="text-right font-normal">Reference</th>
          <th className="text-right font-normal">Cuts</th>
          <th className="text-right font-normal">Newest proof</th>
          <th className="w-12" aria-label="Delete" />
        </tr>
      </thead>
      <tbody>
        {studies.map((study) => (
          <StudyRow key={study.id} study={study} />
        ))}
      </tbody>
    </table>
  );
}

function StudyRow({ study }: { study: Study }) {
  const queries = useQueryClient();
  const { reference } = study;
  const reload = () => queries.invalidateQueries({ queryKey: ['studies'] });
  const putBack = () => client.putBack('study', study.id).then(reload);
  const remove = () => client.deleteStudy(study.id).then(reload);
  const report = (error: Error) => toast.error(error.message);
  const removeWithUndo = async () => {
    await remove();
    toast(`“${study.title}” is in the trash for ${TRASH_DAYS} days.`, {
      action: { label: 'Undo', onClick: () => void putBack().catch(report) },
      duration: 10_000,
    });
  };
  return (
    <tr className="hairline-b group hover:bg-base-200">
      <td className="py-3">
        <Link to={`/studies/${study.id}/listen`} className="title text-xl underline-offset-4 hover:underline">
          {study.title}
        </Link>
        <p className="text-soft">
          {study.demo && 'The Lamp Room. '}
          {study.note}
        </p>
      </td>
      <td>{study.role ?? ''}</td>
      <td className="figures text-right">
        {formatLength(reference.durationSeconds)}
        <p className="text-soft">
          {reference.format}, {reference.sampleRateHz / 1000} kHz
        </p>
        {reference.notice && <p className="max-w-60 font-sans text-2xs text-soft">{reference.notice}</p>}
      </td>
      <td className="figures text-right">{study.cutCount}</td>
      <td className="figures text-right">
        {study.overallJnd === null ? (
          <span className="font-sans text-soft">none kept</span>
        ) : (
          `${study.overallJnd.toFixed(1)} JND`
        )}
      </td>
      <td className="text-right">
        <button
          type="button"
          className="btn btn-xs btn-ghost btn-square opacity-40 group-hover:opacity-100 focus:opacity-100"
          aria-label={`Delete ${study.title}`}
          onClick={() => void removeWithUndo().catch(report)}
        >
          <Trash size={14} />
        </button>
      </td>
    </tr>
  );
}

const formatLength = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;
