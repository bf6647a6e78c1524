import type { Cut, Proof, Reference, Revision, ShelvedChain, Study } from '@imprint/contract/api';
import type { Run, RunCandidate } from '@imprint/contract/runs';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import type {
  CandidateRow,
  CutRow,
  ProofRow,
  ReferenceRow,
  RevisionRow,
  RunRow,
  ShelvedChainRow,
  StudyRow,
} from '../models/models';
import type { StudySummary } from './find';

/** Rows as the contract shows them. */

export function referenceDocument({
  id,
  fileName,
  format,
  durationSeconds,
  sampleRateHz,
  channels,
  notice,
  blob,
}: ReferenceRow): Reference {
  return {
    id,
    fileName,
    format,
    sha256: blob!.sha256,
    byteLength: Number(blob!.byteLength),
    durationSeconds,
    sampleRateHz,
    channels,
    notice,
  };
}

export const studyDocument = (row: StudyRow, { reference, cutCount, overallJnd }: StudySummary): Study => ({
  id: row.id,
  revision: row.revision,
  saveId: row.saveId,
  title: row.title,
  note: row.note,
  role: row.role as Study['role'],
  demo: row.demoId !== null,
  grid: row.grid,
  createdAt: row.createdAt.toISOString(),
  updatedAt: row.updatedAt.toISOString(),
  reference: referenceDocument(reference),
  overallJnd,
  cutCount,
});

export const cutDocument = (row: CutRow): Cut => {
  const { id, revision, saveId, name, role, fromSeconds, toSeconds, isolation, notes, overrules } = row;
  return { id, revision, saveId, name, role, fromSeconds, toSeconds, isolation, notes, overrules };
};

export const proofDocument = ({ id, name, cutId, createdAt, comparison, blob }: ProofRow): Proof => ({
  id,
  name,
  cutId,
  createdAt: createdAt.toISOString(),
  comparison,
  byteLength: Number(blob!.byteLength),
});

export const revisionDocument = ({ id, number, name, saveId, summary, pinned, createdAt }: RevisionRow): Revision => ({
  id,
  number,
  name,
  saveId,
  summary,
  pinned,
  createdAt: createdAt.toISOString(),
});

export const shelvedChainDocument = ({ id, name, purpose, effects, createdAt }: ShelvedChainRow): ShelvedChain => ({
  id,
  name,
  purpose,
  effects,
  createdAt: createdAt.toISOString(),
});

export function runDocument(row: RunRow): Run {
  const { id, studyId, revision, state, settings, fromPatch, progress, curve, overallJnd, recommendation } = row;
  return {
    ...settings,
    id,
    studyId,
    revision,
    state,
    startsFromPatch: fromPatch !== null,
    stage: progress.stage ?? '',
    fraction: progress.fraction ?? 0,
    renders: progress.renders ?? 0,
    seconds: progress.seconds ?? 0,
    curve,
    overallJnd,
    recommendation,
    failure: row.failure,
    createdAt: row.createdAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
  };
}

export function candidateDocument(row: CandidateRow): RunCandidate {
  const { id, name, kind, overallJnd, settings, why, picture, patch } = row;
  return { id, name, kind, overallJnd, settings, why, picture, patch: parsePackedPatch(patch) };
}
