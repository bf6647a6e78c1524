import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Download, Upload } from 'lucide-react';
import { useRef, useState } from 'react';
import { toast } from 'sonner';
import { TRASH_DAYS } from '@imprint/contract/api';
import { client } from '../../api/client';

/** Everything as one file, and back. */
export function Archive() {
  const queries = useQueryClient();
  const replaced = useQuery({ queryKey: ['replaced'], queryFn: client.replaced });
  const [file, setFile] = useState<File | null>(null);
  const input = useRef<HTMLInputElement>(null);
  const reload = () => queries.invalidateQueries();
  const bringBack = useMutation({
    mutationFn: (archive: File) => client.bringBackArchive(archive),
    onSuccess: ({ studies, revisions, proofs }) => {
      toast(`Brought back ${studies} studies with ${revisions} states of patches and ${proofs} proofs.`);
      setFile(null);
      void reload();
    },
  });
  const changeBack = useMutation({ mutationFn: client.changeBack, onSuccess: () => void reload() });
  const failure = bringBack.error ?? changeBack.error;
  return (
    <section aria-label="Archive" className="px-10 py-8">
      <h2 className="title text-2xl">Archive</h2>
      <p className="mt-1 text-soft">
        One file with everything: references, cuts, readings, every state of every patch, proofs, the shelf, the trash.
        Keep a copy of it elsewhere.
      </p>
      <a className="btn btn-sm btn-neutral mt-4" href={client.archiveUrl} download>
        <Download size={14} /> Export everything
      </a>

      <h3 className="title mt-10 text-xl">Bring it back</h3>
      <p className="mt-1 text-soft">
        An archive takes the place of all that is here now. It is read and checked first; until then nothing changes,
        and what was here can be had back for {TRASH_DAYS} days.
      </p>
      <input
        ref={input}
        type="file"
        accept=".tar,application/x-tar"
        className="hidden"
        aria-label="Archive file"
        onChange={({ target }) => {
          setFile(target.files?.[0] ?? null);
          bringBack.reset();
          target.value = '';
        }}
      />
      {file ? (
        <div className="mt-4 border-l-4 border-base-content bg-base-200 px-4 py-3">
          <p>
            <strong>{file.name}</strong>, {(file.size / 1e6).toFixed(1)} MB, in the place of everything here?
          </p>
          {bringBack.isPending ? (
            <p role="status" className="mt-2 flex items-center gap-3">
              Reading and checking it <progress className="progress w-40" />
            </p>
          ) : (
            <p className="mt-2 flex gap-1">
              <button type="button" className="btn btn-sm btn-neutral" onClick={() => bringBack.mutate(file)}>
                Bring it back
              </button>
              <button type="button" className="btn btn-sm btn-ghost" onClick={() => setFile(null)}>
                Leave it
              </button>
            </p>
          )}
        </div>
      ) : (
        <button type="button" className="btn btn-sm btn-outline mt-4" onClick={() => input.current?.click()}>
          <Upload size={14} /> Choose an archive …
        </button>
      )}
      {failure && (
        <p role="alert" className="mt-4 border-l-4 border-base-content bg-base-200 px-4 py-3">
          {failure.message} Nothing was changed.
        </p>
      )}
      {replaced.data?.replacedAt && (
        <p className="mt-6">
          On {new Date(replaced.data.replacedAt).toLocaleString()} an archive took the place of what was here before.{' '}
          <button
            type="button"
            className="btn btn-xs btn-outline"
            disabled={changeBack.isPending}
            onClick={() => changeBack.mutate()}
          >
            Change the two
          </button>
        </p>
      )}
    </section>
  );
}
