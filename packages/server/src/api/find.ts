import { type Model, type ModelStatic, Op, QueryTypes, Transaction } from 'sequelize';
import { z } from 'zod';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { CutRow, ProofRow, ReferenceRow, StudyRow } from '../models/models';

const uuid = z.uuid();

/**
 * How a row is looked up: within a transaction, and held against others who would change or delete it until
 * its end.
 */
interface Held {
  transaction: Transaction;
  hold: 'change' | 'share';
}

const lockOf = ({ transaction, hold }: Held) => ({
  transaction,
  lock: hold === 'change' ? Transaction.LOCK.UPDATE : Transaction.LOCK.KEY_SHARE,
});

/** The row of an id, or a 404 that names what was looked for. */
export async function findRow<T extends Model>(
  model: ModelStatic<T>,
  id: string,
  what: string,
  held?: Held,
): Promise<T> {
  const row = uuid.safeParse(id).success ? await model.findByPk(id, held && lockOf(held)) : null;
  if (!row) throw new ApiError('notFound', `There is no ${what} of this address any more.`);
  return row;
}

/** A study that is in use. */
export async function findStudy({ Study }: Database, id: string, held?: Held): Promise<StudyRow> {
  const study = await findRow(Study, id, 'study', held);
  if (study.deletedAt)
    throw new ApiError('notFound', `“${study.title}” is in the trash. It can be put back from there.`);
  return study;
}

/** A cut that is in use, with its study. */
export async function findCut(database: Database, id: string, held?: Held): Promise<{ cut: CutRow; study: StudyRow }> {
  // The study first, as everywhere: two who hold the same rows in another order would wait for each other.
  const { studyId } = await findRow(database.Cut, id, 'cut', held && { ...held, hold: 'share' });
  const study = await findStudy(database, studyId, held && { ...held, hold: 'share' });
  const cut = await findRow(database.Cut, id, 'cut', held);
  if (cut.deletedAt)
    throw new ApiError('notFound', `The cut “${cut.name}” is in the trash. It can be put back from there.`);
  return { cut, study };
}

/** A proof that is in use. */
export async function findProof(database: Database, id: string, held?: Held): Promise<ProofRow> {
  const proof = await findRow(database.Proof, id, 'proof', held);
  await findStudy(database, proof.studyId);
  if (proof.deletedAt) throw new ApiError('notFound', `The proof “${proof.name}” is in the trash.`);
  return proof;
}

/** What a list shows of a study besides its own row. */
export interface StudySummary {
  reference: ReferenceRow;
  cutCount: number;
  /** Of its newest proof. */
  overallJnd: number | null;
}

/** The summaries of studies by id, in one go however many there are. */
export async function summariesOf(
  { sequelize, Reference }: Database,
  studies: readonly StudyRow[],
): Promise<Map<string, StudySummary>> {
  const ids = studies.map(({ id }) => id);
  if (ids.length === 0) return new Map();
  const rows = await sequelize.query<{ id: string; cutCount: number; overallJnd: number | null }>(
    `SELECT s.id,
       (SELECT count(*)::integer FROM cuts c WHERE c.study_id = s.id AND c.deleted_at IS NULL) AS "cutCount",
       (SELECT p.overall_jnd FROM proofs p WHERE p.study_id = s.id AND p.deleted_at IS NULL
         ORDER BY p.created_at DESC LIMIT 1) AS "overallJnd"
     FROM studies s WHERE s.id IN (:ids)`,
    { replacements: { ids }, type: QueryTypes.SELECT },
  );
  const references = await Reference.findAll({
    where: { id: { [Op.in]: studies.map(({ referenceId }) => referenceId) } },
    attributes: { exclude: ['overview'] },
    include: [{ association: 'blob' }],
  });
  const referenceOf = new Map(references.map((reference) => [reference.id, reference]));
  const studyOf = new Map(studies.map((study) => [study.id, study]));
  return new Map(
    rows.map(({ id, cutCount, overallJnd }) => [
      id,
      { cutCount, overallJnd, reference: referenceOf.get(studyOf.get(id)!.referenceId)! },
    ]),
  );
}

/** Marks a study as just worked on. */
export async function touchStudy({ Study }: Database, id: string, transaction: Transaction): Promise<void> {
  await Study.update({ updatedAt: new Date() }, { where: { id }, transaction });
}

/** On which state a change was made, and which change it is. */
export interface Change {
  revision?: number;
  saveId?: string;
}

/**
 * Whether a change was made already, by a request whose answer did not arrive. Refuses one that was made on
 * another state than the present one.
 */
export function isMade(
  row: { revision: number; saveId: string | null },
  { revision, saveId }: Change,
  what: string,
  current: () => unknown,
): boolean {
  if (saveId !== undefined && saveId === row.saveId) return true;
  if (revision === undefined || revision === row.revision) return false;
  throw new ApiError('conflict', `${what} was changed in another window meanwhile.`, current());
}
