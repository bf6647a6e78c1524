import { useEffect, useRef } from 'react';
import { noteKeys, rulerKeys, shortcuts } from '../app/shortcuts';
import { Key } from './Key';

const places = ['Everywhere', 'Listen', 'Build'] as const;

/** The list of all keys. */
export function KeysHelp({ open, onClose }: { open: boolean; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    if (open) dialog.current?.showModal();
    else dialog.current?.close();
  }, [open]);
  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-label="Keys">
      <div className="modal-box max-w-3xl border border-base-content">
        <h2 className="title text-xl text-base-content">Keys</h2>
        <div className="mt-4 grid grid-cols-2 gap-x-10 gap-y-6">
          {places.map((place) => (
            <KeyList key={place} title={place} rows={Object.values(shortcuts).filter(({ where }) => where === place)} />
          ))}
          <KeyList title="On a ruler" rows={rulerKeys} />
          <KeyList title="On a note" rows={noteKeys} />
          <KeyList
            title="Keyboard folded out"
            rows={[
              { shown: 'Z S X D C V G B H N J M', what: 'Notes from C to B' },
              { shown: '[ ]', what: 'An octave down or up' },
            ]}
          />
        </div>
        <form method="dialog" className="modal-action">
          <button className="btn btn-sm btn-outline">Close</button>
        </form>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button aria-label="Close">Close</button>
      </form>
    </dialog>
  );
}

function KeyList({ title, rows }: { title: string; rows: readonly { shown: string; what: string }[] }) {
  return (
    <section>
      <h3 className="hairline-b pb-1 font-bold text-soft">{title}</h3>
      <dl className="mt-2 space-y-1">
        {rows.map(({ shown, what }) => (
          <div key={what} className="flex justify-between gap-4">
            <dd>{what}</dd>
            <dt className="shrink-0">
              <Key>{shown}</Key>
            </dt>
          </div>
        ))}
      </dl>
    </section>
  );
}
