import { ChevronDown, ChevronRight } from 'lucide-react';
import type { ReactNode } from 'react';
import { useSettings } from '../app/settings';

interface FoldProps {
  /** Under which it is remembered in this browser. */
  id: string;
  title: string;
  /** Whether it is open as long as nobody has said otherwise. */
  open: boolean;
  /** Stands at the right of the heading. */
  action?: ReactNode;
  children: ReactNode;
}

/** A part under a small heading that folds. */
export function Fold({ id, title, open, action, children }: FoldProps) {
  const { folds, setFold } = useSettings();
  const isOpen = folds[id] ?? open;
  const Chevron = isOpen ? ChevronDown : ChevronRight;
  return (
    <section>
      <h3 className="hairline-b flex items-center justify-between">
        <button
          type="button"
          aria-expanded={isOpen}
          className="flex grow cursor-pointer items-center gap-1 py-[2px] text-left font-bold text-soft"
          onClick={() => setFold(id, !isOpen)}
        >
          <Chevron size={13} /> {title}
        </button>
        {action}
      </h3>
      {isOpen && <div className="pt-1">{children}</div>}
    </section>
  );
}
