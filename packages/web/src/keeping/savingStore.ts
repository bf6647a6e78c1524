import { create } from 'zustand';
import type { Confirmed, SavingState } from './outbox';
import type { Unsent } from './unsent';

interface SavingStore {
  state: SavingState;
  /** Why something is not saved. */
  reason: string | null;
  /** What another window changed as well, until it is said whose counts. */
  conflicts: { unsent: Unsent; current: Confirmed }[];
  /** Whether that is asked just now; it can be put off. */
  deciding: boolean;
}

/** Whether what was changed here has reached the server. */
export const useSaving = create<SavingStore>(() => ({ state: 'saved', reason: null, conflicts: [], deciding: false }));
