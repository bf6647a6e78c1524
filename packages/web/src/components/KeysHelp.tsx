import { noteKeys, rulerKeys, shortcuts } from '../app/shortcuts';
import { Dialog } from './Dialog';
import { Key } from './Key';

const places = ['Everywhere', 'Listen', 'Build'] as const;

/** The list of all keys. */
export function KeysHelp({ onClose }: { onClose: () => void }) {
  return (
    <Dialog label="Keys" className="max-w-6xl" onClose={onClose}>
      <h2 className="title text-xl text-base-content">Keys</h2>
      <div className="mt-4 grid grid-cols-3 gap-x-10 gap-y-6">
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
    </Dialog>
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
