import { create } from 'zustand';
import type { Cut, Proof as KeptProofSummary, Revision, Study } from '@imprint/contract/api';
import type { Proof } from '@imprint/core/matching/proof';
import type { Patch } from '@imprint/core/patch/schema';
import { type Audio, sliceAudio } from '@imprint/core/reading/audio';
import type { ExposedMoment } from '@imprint/core/reading/cuts/exposedMoments';
import type { Grid } from '@imprint/core/reading/piece/grid';
import { applyOverrules } from '@imprint/core/reading/hand/overrules';
import type { Piece } from '@imprint/core/reading/piece/piece';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';
import { trackBpm } from '@imprint/core/reading/piece/tempo';
import type { Section } from '@imprint/core/reading/piece/sections';
import type { LoadedReference } from '../workers/media.worker';

/** Work that takes longer than a moment, with how far it is. */
export interface Work {
  title: string;
  fraction: number;
}

export interface StudyState {
  status: 'closed' | 'loading' | 'ready' | 'failed';
  failure: string | null;
  loading: Work | null;
  study: Study | null;
  cuts: Cut[];
  proofs: KeptProofSummary[];
  cutId: string | null;
  /** What the notes of cuts were before each correction, the last one last. */
  earlierNotes: { cutId: string; notes: ReadingNote[] | null }[];
  reference: LoadedReference | null;
  onsets: number[];
  /** Tempo and key of the whole reference, once they are told. */
  piece: Piece | null;
  /** Null as long as they are looked for. */
  exposed: ExposedMoment[] | null;
  /** Null as long as they are looked for. */
  sections: Section[] | null;
  /** Whether the work on the whole file was ended by hand. */
  overviewStopped: boolean;
  readings: Record<string, Reading>;
  /** The newest print of the patch over the chosen cut. */
  proof: (Proof & { patch: Patch; cutId: string }) | null;
  revision: Revision | null;
  /** Reading or building that is running, and what went wrong with the last. */
  work: Work | null;
  workFailure: string | null;
  printing: boolean;
}

export const closed: StudyState = {
  status: 'closed',
  failure: null,
  loading: null,
  study: null,
  cuts: [],
  proofs: [],
  cutId: null,
  earlierNotes: [],
  reference: null,
  onsets: [],
  piece: null,
  exposed: null,
  sections: null,
  overviewStopped: false,
  readings: {},
  proof: null,
  revision: null,
  work: null,
  workFailure: null,
  printing: false,
};

export const useStudyStore = create<StudyState>(() => closed);

export const messageOf = (error: unknown) => (error instanceof Error ? error.message : String(error));

/** The beats as set by hand, or as found; null where there are none. */
export const gridOf = ({ study, piece }: StudyState): Grid | null => study?.grid ?? piece?.tempo ?? null;

/** Tempo of the track: as set by hand, or as found when that is sure; null where there is none. */
export const trackBpmOf = ({ study, piece }: StudyState): number | null => trackBpm(study?.grid, piece?.tempo);

export const cutOf = ({ cuts, cutId }: StudyState) => cuts.find((cut) => cut.id === cutId) ?? null;

/** The reading of the chosen cut, its notes and its values as corrected by hand. */
export function readingOf(state: StudyState): Reading | null {
  const cut = cutOf(state);
  const reading = cut ? state.readings[cut.id] : undefined;
  return reading ? corrected(reading, cut!) : null;
}

const known = new WeakMap<Reading, { by: Pick<Cut, 'notes' | 'overrules'>; made: Reading }>();

/** The same object for the same corrections, so that what depends on it is not made anew. */
function corrected(reading: Reading, { notes, overrules }: Cut): Reading {
  const before = known.get(reading);
  if (before && before.by.notes === notes && before.by.overrules === overrules) return before.made;
  const made = applyOverrules(notes ? { ...reading, notes } : reading, overrules);
  known.set(reading, { by: { notes, overrules }, made });
  return made;
}

/** The samples of a cut, read in place. */
export function audioOf(cut: Cut): Audio {
  return sliceAudio(useStudyStore.getState().reference!.audio, cut.fromSeconds, cut.toSeconds);
}

export const notesOf = (cut: Cut): ReadingNote[] => cut.notes ?? useStudyStore.getState().readings[cut.id]?.notes ?? [];
