import { ActionMenu } from '../../../components/ActionMenu';

/** Heading of a part of the strip, with what adds to it. */
export function Heading({ title, action }: { title: string; action?: React.ReactNode }) {
  return (
    <div className="mt-1 flex h-7 shrink-0 items-center justify-between pr-2 pl-[14px]">
      <h2 className="min-w-0 truncate font-bold text-soft">{title}</h2>
      {action}
    </div>
  );
}

interface AddMenuProps {
  label: string;
  options: Readonly<Record<string, string>>;
  onAdd: (choice: string) => void;
}

/** Adds one of several kinds. */
export function AddMenu({ label, options, onAdd }: AddMenuProps) {
  return (
    <ActionMenu
      label={label}
      prompt="Add"
      title={label}
      className="select-ghost w-[62px] px-1"
      options={options}
      onPick={onAdd}
    />
  );
}
