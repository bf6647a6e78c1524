import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { toast } from 'sonner';
import { writeMidiFile } from '@imprint/core/formats/midi';
import { writeRecipe } from '@imprint/core/formats/recipe';
import { writeWavetable } from '@imprint/core/formats/wavetable';
import { phraseOf } from '@imprint/core/matching/phrase';
import { patchJsonSchema } from '@imprint/core/patch/jsonSchema';
import { MAX_NAME } from '@imprint/core/patch/names';
import { download, fileNameOf } from '../../app/download';
import { Key } from '../../components/Key';
import { NeedsReading } from '../../components/NeedsReading';
import { usePatchStore } from '../../stores/patchStore';
import { bringBackProof, deleteProof, keepProof, putBackProof } from '../../stores/proofs';
import { readingOf, useStudyStore } from '../../stores/studyStore';
import { ExportRow } from './ExportRow';
import { PrintExport } from './PrintExport';

/** What is taken away: proofs that were kept, and open files. */
export function FinishScreen() {
  return (
    <NeedsReading patch>
      <div className="grid h-full grid-cols-2 overflow-y-auto">
        <Proofs />
        <Exports />
      </div>
    </NeedsReading>
  );
}

async function deleteWithUndo(id: string): Promise<void> {
  const proof = useStudyStore.getState().proofs.find((other) => other.id === id);
  if (!proof) return;
  await deleteProof(id);
  toast(`“${proof.name}” is in the trash.`, {
    action: {
      label: 'Undo',
      onClick: () => void putBackProof(proof).catch((error: Error) => toast.error(error.message)),
    },
  });
}

function Proofs() {
  const proofs = useStudyStore((state) => state.proofs);
  const proof = useStudyStore((state) => state.proof);
  const [name, setName] = useState('');
  const keep = useMutation({
    mutationFn: () => keepProof(name.trim() || `Proof ${proofs.length + 1}`),
    onSuccess: () => setName(''),
    onError: (error) => toast.error(`Not kept: ${error.message}`),
  });
  return (
    <section aria-label="Proofs" className="hairline-r p-6">
      <h2 className="title text-2xl">Proofs</h2>
      <p className="mt-1 text-soft">
        A print of the patch over the cut, kept with its gaps, so that an earlier one can be brought back.
      </p>
      <form
        className="mt-4 flex gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          keep.mutate();
        }}
      >
        <input
          className="input input-sm grow"
          aria-label="Name of the proof"
          placeholder={`Proof ${proofs.length + 1}`}
          maxLength={MAX_NAME}
          value={name}
          onChange={({ target }) => setName(target.value)}
        />
        <button className="btn btn-sm btn-neutral" disabled={!proof || keep.isPending}>
          Keep a proof
        </button>
        <Key of="keepProof" />
      </form>
      {proofs.length === 0 ? (
        <p className="mt-6 text-soft">None kept yet.</p>
      ) : (
        <ul className="mt-4">
          {proofs.map(({ id, name: title, comparison, createdAt }) => (
            <li key={id} className="hairline-b grid grid-cols-[1fr_auto_auto] items-center gap-3 py-2">
              <div className="min-w-0">
                <p className="truncate font-bold">{title}</p>
                <p className="text-soft">{new Date(createdAt).toLocaleString()}</p>
              </div>
              <span className="figures">{comparison.overallJnd.toFixed(1)} JND</span>
              <span className="flex gap-1">
                <a
                  className="btn btn-xs btn-outline"
                  href={`/api/proofs/${id}/audio`}
                  download={`${fileNameOf(title)}.wav`}
                >
                  WAV
                </a>
                <button
                  type="button"
                  className="btn btn-xs btn-outline"
                  onClick={() =>
                    void bringBackProof(id).then(
                      () => toast(`The patch is that of “${title}” again. Undo brings back what was there.`),
                      (error: Error) => toast.error(error.message),
                    )
                  }
                >
                  Bring back
                </button>
                <button
                  type="button"
                  className="btn btn-xs btn-ghost"
                  onClick={() => void deleteWithUndo(id).catch((error: Error) => toast.error(error.message))}
                >
                  Delete
                </button>
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}

function Exports() {
  const patch = usePatchStore((state) => state.patch)!;
  const reading = useStudyStore(readingOf)!;
  const title = useStudyStore((state) => state.study!.title);
  const notes = phraseOf(reading);
  const file = (ending: string) => `${fileNameOf(title)}${ending}`;
  return (
    <section aria-label="Export" className="p-6">
      <h2 className="title text-2xl">Take it away</h2>
      <p className="mt-1 text-soft">Open formats only. Everything here can be read without Imprint.</p>
      <ul className="mt-4">
        <PrintExport patch={patch} phrase={notes} fileName={file('-proof.wav')} />
        <ExportRow
          title="Patch as JSON"
          detail="All settings in real units."
          onExport={() => download(file('.patch.json'), JSON.stringify(patch, null, 1), 'application/json')}
        >
          <button
            type="button"
            className="btn btn-xs btn-ghost"
            onClick={() =>
              download(
                'imprint-patch.schema.json',
                JSON.stringify(patchJsonSchema(), null, 2),
                'application/schema+json',
              )
            }
          >
            Its JSON Schema
          </button>
        </ExportRow>
        {patch.wavetables.map((table) => (
          <ExportRow
            key={table.id}
            title={`Wavetable as WAV`}
            detail={`“${table.name}”: ${table.frameCount} frames of 2048 samples, one after the other.`}
            onExport={() => download(file(`-${table.id}.wav`), writeWavetable(table), 'audio/wav')}
          />
        ))}
        <ExportRow
          title="Notes as MIDI"
          detail={`${notes.length} note${notes.length === 1 ? '' : 's'}, a Standard MIDI File.`}
          onExport={() => download(file('.mid'), writeMidiFile(notes), 'audio/midi')}
        />
        <ExportRow
          title="Recipe as text"
          detail="The steps in real units, to rebuild the tone anywhere by hand."
          onExport={() => download(file('-recipe.md'), writeRecipe(patch, notes), 'text/markdown')}
        />
      </ul>
    </section>
  );
}
