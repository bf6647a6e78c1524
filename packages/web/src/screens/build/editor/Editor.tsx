import type { ReactNode } from 'react';
import { MAX_NAME } from '@imprint/core/patch/names';

interface EditorProps {
  title: string;
  note: string;
  action?: ReactNode;
  /** Its own name, where it can have one; undefined while it has none. */
  named?: { name: string | undefined; onName: (name: string | undefined) => void };
  children: ReactNode;
}

/** Frame of the editor of one element: its name, what it is for, its choices, then its rulers. */
export function Editor({ title, note, action, named, children }: EditorProps) {
  return (
    <section aria-label={title} className="px-5 pb-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-3 gap-y-1 py-[6px]">
        <h2 className="title flex min-w-0 items-baseline text-lg">
          {named ? <OwnName title={title} {...named} /> : <span className="truncate">{title}</span>}{' '}
          <span className="ml-2 min-w-0 truncate font-sans text-[13px] font-normal text-soft" title={note}>
            {note}
          </span>
        </h2>
        <div className="flex flex-wrap items-center gap-2">{action}</div>
      </header>
      {children}
    </section>
  );
}

/** The title as a field: a name that is typed takes its place, an emptied one gives it back. */
function OwnName({ title, name, onName }: { title: string } & NonNullable<EditorProps['named']>) {
  const finish = (typed: string) => {
    const next = typed.trim() === '' || (name === undefined && typed.trim() === title) ? undefined : typed.trim();
    if (next !== name) onName(next);
  };
  return (
    <input
      key={title}
      className="input input-ghost input-sm title -ml-2 max-w-60 min-w-16 w-auto! shrink-0 px-2 text-lg [field-sizing:content]"
      aria-label="Name"
      title="Type to name it; empty for its own title"
      maxLength={MAX_NAME}
      defaultValue={title}
      onBlur={({ target }) => finish(target.value)}
      onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
    />
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  value: T;
  titles: Readonly<Record<T, string>>;
  onChange: (value: T) => void;
  className?: string;
}

/** A choice between a few words. */
export function Choice<T extends string>({ label, value, titles, onChange, className = 'w-36' }: ChoiceProps<T>) {
  return (
    <label className="flex items-center gap-2 text-soft">
      {label}
      <select
        className={`select select-xs ${className} text-base-content`}
        aria-label={label}
        value={value}
        onChange={({ target }) => onChange(target.value as T)}
      >
        {Object.entries<string>(titles).map(([name, title]) => (
          <option key={name} value={name}>
            {title}
          </option>
        ))}
      </select>
    </label>
  );
}

/** Something that is so or not. */
export function Tick({
  label,
  checked,
  onChange,
}: {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}) {
  return (
    <label className="flex items-center gap-1 text-soft">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={checked}
        onChange={({ target }) => onChange(target.checked)}
      />
      {label}
    </label>
  );
}
