import type { Cut, Proof, Reference, Revision, ShelvedChain, Study } from '@imprint/contract/api';
import type { CutRow, ProofRow, ReferenceRow, RevisionRow, ShelvedChainRow, StudyRow } from '../models/models';

/** Rows as the contract shows them. */

export function referenceDocument({
  id,
  fileName,
  format,
  durationSeconds,
  sampleRateHz,
  channels,
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
  };
}

export function studyDocument(row: StudyRow): Study {
  const proofs = [...(row.proofs ?? [])].sort((a, b) => b.createdAt.getTime() - a.createdAt.getTime());
  return {
    id: row.id,
    title: row.title,
    note: row.note,
    role: row.role as Study['role'],
    demo: row.demoId !== null,
    grid: row.grid,
    createdAt: row.createdAt.toISOString(),
    updatedAt: row.updatedAt.toISOString(),
    reference: referenceDocument(row.reference!),
    overallJnd: proofs[0]?.comparison.overallJnd ?? null,
    cutCount: row.cuts?.length ?? 0,
  };
}

export const cutDocument = ({ id, name, role, fromSeconds, toSeconds, isolation, notes, overrules }: CutRow): Cut => ({
  id,
  name,
  role,
  fromSeconds,
  toSeconds,
  isolation,
  notes,
  overrules,
});

export const proofDocument = ({ id, name, cutId, createdAt, comparison, blob }: ProofRow): Proof => ({
  id,
  name,
  cutId,
  createdAt: createdAt.toISOString(),
  comparison,
  byteLength: Number(blob!.byteLength),
});

export const revisionDocument = ({ id, number, name, createdAt }: RevisionRow): Revision => ({
  id,
  number,
  name,
  createdAt: createdAt.toISOString(),
});

export const shelvedChainDocument = ({ id, name, purpose, effects, createdAt }: ShelvedChainRow): ShelvedChain => ({
  id,
  name,
  purpose,
  effects,
  createdAt: createdAt.toISOString(),
});
