import { type ReactNode, useEffect, useRef } from 'react';

interface DialogProps {
  /** What it is called, for those who hear the page. */
  label: string;
  className?: string;
  /** What its button says. */
  closeWord?: string;
  children: ReactNode;
  onClose: () => void;
}

/** A window over the page; a click beside it, Escape or its button close it. */
export function Dialog({ label, className = '', closeWord = 'Close', children, onClose }: DialogProps) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  return (
    <dialog ref={dialog} className="modal" onClose={onClose} aria-label={label}>
      <div className={`modal-box border border-base-content outline-none ${className}`}>
        {children}
        <form method="dialog" className="modal-action">
          <button className="btn btn-sm btn-outline">{closeWord}</button>
        </form>
      </div>
      <form method="dialog" className="modal-backdrop">
        <button aria-label="Close">Close</button>
      </form>
    </dialog>
  );
}
