import { useState } from 'react';
import { gesture } from '../stores/patchStore';

const KEY_STEP = 0.04;
const FINE = 0.1;
const STRAIGHT = 0.5;
/** Shares are kept off the ends, where no curve goes. */
const MARGIN = 0.01;

/** The middle of a stretch of line that can be bent. */
export interface Bend {
  x: number;
  y: number;
  /** Values at both ends of the stretch. */
  from: number;
  to: number;
  /** What it is, in words. */
  title: string;
  /**
   * @param share how much of the way from one end to the other is gone in the middle, over 0 and under 1; 0.5
   * is straight
   */
  onBend: (share: number) => void;
}

interface BendHandleProps {
  bend: Bend;
  /** Place in percent of the picture. */
  left: number;
  top: number;
  /** Value at a height on the page. */
  yAt: (clientY: number) => number;
}

/**
 * The round handle that bends a stretch of line: drag it up or down, arrows do the same, Delete or a
 * double-click makes it straight.
 */
export function BendHandle({ bend, left, top, yAt }: BendHandleProps) {
  const [held, setHeld] = useState(false);
  const { from, to, y, title, onBend } = bend;
  const bendTo = (value: number) => onBend(Math.min(1 - MARGIN, Math.max(MARGIN, (value - from) / (to - from))));

  function onKey(event: React.KeyboardEvent): void {
    const step = Math.abs(to - from) * KEY_STEP * (event.shiftKey ? FINE : 1);
    if (event.key === 'ArrowUp') bendTo(y + step);
    else if (event.key === 'ArrowDown') bendTo(y - step);
    else if (event.key === 'Delete' || event.key === 'Backspace') onBend(STRAIGHT);
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  return (
    <button
      type="button"
      aria-label={title}
      title={`${title}. Drag it up or down; a double-click makes it straight.`}
      className="absolute size-[11px] -translate-x-1/2 -translate-y-1/2 cursor-ns-resize touch-none rounded-full border-2 bg-base-100"
      style={{ left: `${left}%`, top: `${top}%`, borderColor: 'var(--ink-patch)' }}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        gesture.begin();
        setHeld(true);
      }}
      onPointerMove={(event) => held && bendTo(yAt(event.clientY))}
      onPointerUp={() => {
        if (held) gesture.end();
        setHeld(false);
      }}
      onDoubleClick={(event) => {
        event.stopPropagation();
        onBend(STRAIGHT);
      }}
      onKeyDown={onKey}
    />
  );
}
