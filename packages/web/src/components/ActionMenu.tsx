interface ActionMenuProps {
  /** What it does, for those who hear the page. */
  label: string;
  /** What stands on it while it is closed. */
  prompt: string;
  title?: string;
  className?: string;
  /** Titles by value: of what stands alone, and in groups. Empty groups are left out. */
  options?: Readonly<Record<string, string>>;
  groups?: readonly { title: string; options: Readonly<Record<string, string>> }[];
  onPick: (value: string) => void;
}

/** A menu each of whose entries does something at once; nothing stays chosen. */
export function ActionMenu({
  label,
  prompt,
  title,
  className = '',
  options = {},
  groups = [],
  onPick,
}: ActionMenuProps) {
  return (
    <select
      className={`select select-xs ${className}`}
      aria-label={label}
      title={title}
      value=""
      onChange={({ target }) => onPick(target.value)}
    >
      <option value="" disabled>
        {prompt}
      </option>
      <Options of={options} />
      {groups.map(
        (group) =>
          Object.keys(group.options).length > 0 && (
            <optgroup key={group.title} label={group.title}>
              <Options of={group.options} />
            </optgroup>
          ),
      )}
    </select>
  );
}

function Options({ of }: { of: Readonly<Record<string, string>> }) {
  return Object.entries(of).map(([value, title]) => (
    <option key={value} value={value}>
      {title}
    </option>
  ));
}
