/** A note that a player holds. */
export interface HeldNote {
  noteId: number;
  /** Note number; fractions are fine tuning. */
  midi: number;
  /** 1..127; 100 plays at the patch's own level. */
  velocity: number;
  startFrame: number;
  seed: number;
  /** How many notes came before it. */
  index: number;
}

/**
 * The keys that are down, in the order in which they were struck. Its records are used again, so that a note
 * allocates nothing.
 */
export interface HeldNotes {
  readonly count: number;
  /** The `i`-th of them, 0 the first that was struck; its fields change when notes are let go. */
  at(i: number): HeldNote;
  /** Adds a record for the caller to fill; a note of the same id is let go first. */
  add(noteId: number): HeldNote;
  remove(noteId: number): void;
  clear(): void;
}

/** More than hands and a sustain pedal hold; beyond it records are made as they are needed. */
const PREPARED = 64;

export function createHeldNotes(): HeldNotes {
  const records = Array.from({ length: PREPARED }, createNote);
  let count = 0;

  function remove(noteId: number): void {
    for (let i = 0; i < count; i++) {
      if (records[i].noteId !== noteId) continue;
      const gone = records[i];
      count--;
      for (let j = i; j < count; j++) records[j] = records[j + 1];
      records[count] = gone;
      return;
    }
  }

  return {
    get count() {
      return count;
    },
    at: (i) => records[i],
    add(noteId) {
      remove(noteId);
      if (count === records.length) records.push(createNote());
      const note = records[count++];
      note.noteId = noteId;
      return note;
    },
    remove,
    clear() {
      count = 0;
    },
  };
}

const createNote = (): HeldNote => ({ noteId: -1, midi: 0, velocity: 0, startFrame: 0, seed: 0, index: 0 });
