import { type Dragged, leftOf } from './useDragAcross';

/** What a drag is about to show, over the picture. */
export function DraggedStretch({ dragged }: { dragged: Dragged | null }) {
  if (!dragged) return null;
  const [from, to] = [Math.min(dragged.from, dragged.to), Math.max(dragged.from, dragged.to)];
  return (
    <span
      aria-hidden
      className="pointer-events-none absolute inset-y-0 border-x border-base-content bg-base-content/10"
      style={{ left: leftOf(from), right: `calc(100% - ${leftOf(to)})` }}
    />
  );
}
