import { type PointerEvent, useState } from 'react';
import { LEFT_PX, RIGHT_PX } from './plots';

/** Less than this is a click. */
const LEAST_SHARE = 0.015;

/** Where along a picture the pointer is, 0..1. */
export function shareAcross({ currentTarget, clientX }: PointerEvent<HTMLElement>): number {
  const { left, width } = currentTarget.getBoundingClientRect();
  return Math.min(1, Math.max(0, (clientX - left - LEFT_PX) / (width - LEFT_PX - RIGHT_PX)));
}

/** Where a share of a picture stands, in CSS. */
export const leftOf = (share: number) => `calc(${LEFT_PX}px + ${share} * (100% - ${LEFT_PX + RIGHT_PX}px))`;

/** Shares of the width between which the pointer was dragged. */
export interface Dragged {
  from: number;
  to: number;
}

/** A drag across a picture shows that part of it, a double click all of it. */
export function useDragAcross(onStretch: (dragged: Dragged) => void, onWhole: () => void) {
  const [dragged, setDragged] = useState<Dragged | null>(null);
  return {
    dragged,
    handlers: {
      onPointerDown(event: PointerEvent<HTMLElement>) {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const share = shareAcross(event);
        setDragged({ from: share, to: share });
      },
      onPointerUp() {
        setDragged(null);
        if (dragged && Math.abs(dragged.to - dragged.from) > LEAST_SHARE) onStretch(dragged);
      },
      onPointerCancel: () => setDragged(null),
      onDoubleClick: onWhole,
    },
    /** Takes a move over where a drag is under way. */
    follow: (share: number) => setDragged((before) => before && { ...before, to: share }),
  };
}
