import { ChevronDown, ChevronRight } from 'lucide-react';
import { useSettings } from '../../../app/settings';
import { ActionMenu } from '../../../components/ActionMenu';

interface StripSectionProps {
  /** Under which it is remembered whether it is folded. */
  id: string;
  title: string;
  /** What adds to it. */
  action?: React.ReactNode;
  children: React.ReactNode;
}

/** A part of the strip under its heading, which folds. */
export function StripSection({ id, title, action, children }: StripSectionProps) {
  const { folds, setFold } = useSettings();
  const open = folds[`strip ${id}`] ?? true;
  const Chevron = open ? ChevronDown : ChevronRight;
  return (
    <>
      <div className="mt-1 flex h-7 shrink-0 items-center justify-between pr-2">
        <h2 className="flex min-w-0 grow font-bold text-soft">
          <button
            type="button"
            aria-expanded={open}
            className="flex min-w-0 grow cursor-pointer items-center text-left"
            onClick={() => setFold(`strip ${id}`, !open)}
          >
            <Chevron size={12} className="mx-px shrink-0" />
            <span className="truncate">{title}</span>
          </button>
        </h2>
        {action}
      </div>
      {open && children}
    </>
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
