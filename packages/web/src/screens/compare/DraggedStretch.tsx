import { LEFT_PX, RIGHT_PX } from './plots';
import type { Dragged } from './useDragAcross';

/** What a drag is about to show, over the picture. */
export function DraggedStretch({ dragged }: { dragged: Dragged | null }) {
  if (!dragged) return null;
  const [from, to] = [Math.min(dragged.from, dragged.to), Math.max(dragged.from, dragged.to)];
  const at = (share: number) => `calc(${LEFT_PX}px + ${share} * (100% - ${LEFT_PX + RIGHT_PX}px))`;
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute inset-y-0 border-x border-base-content bg-base-content/10"
      style={{ left: at(from), right: `calc(100% - ${at(to)})` }}
    />
  );
}
