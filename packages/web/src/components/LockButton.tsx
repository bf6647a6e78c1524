import { Lock, LockOpen } from 'lucide-react';
import { type Lockable, isLocked, turnLock } from '@imprint/core/patch/edits/locks';
import { usePatchStore } from '../stores/patchStore';

export const turnLockOf = (lockable: Lockable): void =>
  usePatchStore.getState().edit((patch) => turnLock(patch, lockable));

/** Lets a match turn something or not; it stands out where it holds. */
export function LockButton({ lockable, title }: { lockable: Lockable; title: string }) {
  const patch = usePatchStore((state) => state.patch)!;
  const locked = isLocked(patch, lockable);
  // A number that its module holds is let go with that.
  const isHeld = lockable.parameter !== undefined && isLocked(patch, { ...lockable, parameter: undefined });
  const Icon = locked ? Lock : LockOpen;
  return (
    <button
      type="button"
      aria-pressed={locked}
      aria-label={`Keep ${title} in a match`}
      title={locked ? 'A match leaves it as it is' : 'A match may turn it'}
      disabled={isHeld}
      className={`shrink-0 cursor-pointer p-px ${locked ? '' : 'text-soft opacity-40 hover:opacity-100 focus:opacity-100'}`}
      onClick={() => turnLockOf(lockable)}
    >
      <Icon size={11} />
    </button>
  );
}
