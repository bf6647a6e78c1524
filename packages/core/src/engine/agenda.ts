/**
 * Things that are to happen at frames, the earliest first, those of one frame in the order in which they were
 * added. Moves its entries in place and keeps its room, so that adding and taking allocate nothing once it
 * has been as full as it gets.
 */
export interface Agenda<T extends { readonly frame: number }> {
  add(entry: T): void;
  /** Takes the earliest entry that lies before `frame`; undefined when there is none. */
  takeBefore(frame: number): T | undefined;
  clear(): void;
}

export function createAgenda<T extends { readonly frame: number }>(): Agenda<T> {
  const entries: T[] = [];
  /** Entries lie from `first` to `end`; what is outside has been taken. */
  let first = 0;
  let end = 0;

  return {
    add(entry) {
      let at = end++;
      for (; at > first && entries[at - 1].frame > entry.frame; at--) entries[at] = entries[at - 1];
      entries[at] = entry;
    },
    takeBefore(frame) {
      if (first === end || entries[first].frame >= frame) return undefined;
      const entry = entries[first++];
      if (first === end) first = end = 0;
      return entry;
    },
    clear() {
      first = end = 0;
    },
  };
}
