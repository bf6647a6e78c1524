import { useSettings } from '../app/settings';
import { noteKeys, pianoKeys, rulerKeys, shortcuts } from '../app/shortcuts';
import { Dialog } from './Dialog';
import { Key } from './Key';

const places = ['Everywhere', 'Listen', 'Build'] as const;

/** The list of all keys. */
export function KeysHelp({ onClose }: { onClose: () => void }) {
  const { characterKeys, setCharacterKeys } = useSettings();
  return (
    <Dialog label="Keys" className="max-w-6xl" onClose={onClose}>
      <h2 className="title text-xl text-base-content">Keys</h2>
      <div className="mt-4 grid grid-cols-3 gap-x-10 gap-y-6">
        {places.map((place) => (
          <KeyList key={place} title={place} rows={Object.values(shortcuts).filter(({ where }) => where === place)} />
        ))}
        <KeyList title="On a ruler" rows={rulerKeys} />
        <KeyList title="On a note" rows={noteKeys} />
        <KeyList title="Keyboard folded out" rows={pianoKeys} />
      </div>
      <label className="hairline-t mt-5 flex cursor-pointer items-center gap-3 pt-3">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={characterKeys}
          onChange={({ target }) => setCharacterKeys(target.checked)}
        />
        Letters, digits and signs are keys. Without them the others go on working, such as Space, Enter, Delete, arrows
        and whatever goes with Ctrl.
      </label>
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
