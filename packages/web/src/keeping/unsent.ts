import type { CutFields, KeptReading } from '@imprint/contract/api';
import type { Grid } from '@imprint/core/reading/piece/grid';
import type { PackedPatch } from '@imprint/core/patch/contents/packing';

/** What of each kind is to be sent. */
export interface UnsentBodies {
  patch: {
    patch: PackedPatch;
    /** The patch of the revision that it is based on, from which only the difference is sent. */
    before: PackedPatch | null;
    name: string | null;
  };
  /** Changed fields; all of them for a cut that is new. */
  cut: { isNew: boolean; fields: Partial<CutFields> };
  study: { title?: string; grid?: Grid | null };
  reading: KeptReading;
}

export type UnsentKind = keyof UnsentBodies;

interface UnsentOf<K extends UnsentKind> {
  /** Of this window, this kind and this id. */
  key: string;
  windowId: string;
  kind: K;
  /** Of the row: a study for its patch, a cut for its reading. */
  id: string;
  studyId: string;
  /** Number of the state that it is based on; null where there was none, or none is counted. */
  base: number | null;
  /** Names this state of it, so that the same one sent twice is kept once. */
  saveId: string;
  /** All states that were sent; an answer may have been lost on the way. */
  sentIds: string[];
  body: UnsentBodies[K];
  /** Whether a window that is gone has left it: what is shown here is not it. */
  isLeftover: boolean;
  /** Order of the first change. */
  at: number;
  /** Why the server did not take it; null while nothing is known against it. */
  refusal: string | null;
}

/** One thing that was changed here and that the server has not confirmed. */
export type Unsent = { [K in UnsentKind]: UnsentOf<K> }[UnsentKind];

/** What is put down for sending. */
export type Change = {
  [K in UnsentKind]: Pick<UnsentOf<K>, 'kind' | 'id' | 'studyId' | 'base' | 'body'>;
}[UnsentKind];
