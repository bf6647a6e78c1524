import type { ReactNode } from 'react';

interface EditorProps {
  title: string;
  note: string;
  action?: ReactNode;
  children: ReactNode;
}

/** Frame of the editor of one element: its name, what it is for, its choices, then its rulers. */
export function Editor({ title, note, action, children }: EditorProps) {
  return (
    <section aria-label={title} className="px-5 pb-4">
      <header className="flex flex-wrap items-baseline justify-between gap-x-3 gap-y-1 py-2">
        <h2 className="title min-w-0 truncate text-lg">
          {title} <span className="ml-2 font-sans text-[13px] font-normal text-soft">{note}</span>
        </h2>
        <div className="flex flex-wrap items-center gap-2">{action}</div>
      </header>
      {children}
    </section>
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
