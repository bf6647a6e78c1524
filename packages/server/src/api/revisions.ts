import jsonPatch, { type Operation } from 'fast-json-patch';
import { Op, QueryTypes, type Transaction } from 'sequelize';
import type { z } from 'zod';
import { type KeptPatch, type PatchChanges, type newRevisionSchema } from '@imprint/contract/api';
import { InputError } from '@imprint/core/patch/inputError';
import { changeSummary } from '@imprint/core/patch/words/changeWords';
import { type PackedPatch, contentsOf } from '@imprint/core/patch/contents/packing';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import { samplesOfFrames } from '@imprint/core/patch/contents/wavetableFrames';
import { bytesOf } from '../blobs';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { BlobRow, RevisionRow } from '../models/models';
import { lock } from '../transactions';
import { revisionDocument } from './documents';

/** Unnamed revisions that are kept; the first, pinned and named ones are kept for good. */
const KEPT_UNNAMED = 60;
/** Savings that follow one another with smaller pauses are one entry of the list. */
const PAUSE_MS = 15_000;
/** As long goes on what becomes one entry at most. */
const LONGEST_MS = 120_000;
const FIRST = 'First patch';
const KEPT_FOR_GOOD = [{ name: { [Op.ne]: null } }, { pinned: true }, { number: 1 }];

/** Whether the next saving takes the place of this one, since it was made in the same breath. */
function isGoneOnWith({ name, pinned, number, createdAt, begunAt }: RevisionRow): boolean {
  const now = Date.now();
  const keptForGood = name !== null || pinned || number === 1;
  return !keptForGood && now - createdAt.getTime() < PAUSE_MS && now - begunAt.getTime() < LONGEST_MS;
}

type NewRevision = z.infer<typeof newRevisionSchema>;

/** The newest revision of a study's patch, or null before the first. */
export async function currentPatch(database: Database, studyId: string): Promise<KeptPatch | null> {
  const { Patch, Revision } = database;
  const patch = await Patch.findOne({ where: { studyId } });
  const row = patch && (await Revision.findOne({ where: { patchId: patch.id }, order: [['number', 'DESC']] }));
  return row ? { revision: revisionDocument(row), patch: parsePackedPatch(row.document) } : null;
}

/** Its number. */
export async function newestRevisionNumber(
  { Patch, Revision }: Database,
  studyId: string,
  transaction?: Transaction,
): Promise<number | null> {
  const patch = await Patch.findOne({ where: { studyId }, ...(transaction && { transaction }) });
  if (!patch) return null;
  return (await Revision.max<number | null, RevisionRow>('number', { where: { patchId: patch.id } })) ?? null;
}

/**
 * Keeps a state of a study's patch as a new revision. The same saving asked for twice gives the same one.
 * Throws a conflict when another revision has come since the one that it was made on.
 */
export async function keepRevision(
  database: Database,
  studyId: string,
  { saveId, base, patch: whole, changes, name }: NewRevision,
  transaction: Transaction,
): Promise<RevisionRow> {
  const { Patch, Revision } = database;
  // Two savings at once must not take the same number: the patch row is the lock.
  await database.sequelize.query(
    `INSERT INTO patches (id, study_id) VALUES (gen_random_uuid(), :studyId) ON CONFLICT (study_id) DO NOTHING`,
    { replacements: { studyId }, transaction },
  );
  const patch = (await Patch.findOne({ where: { studyId }, lock: transaction.LOCK.UPDATE, transaction }))!;
  const known = await Revision.findOne({ where: { saveId }, transaction });
  if (known?.patchId === patch.id) return known;
  if (known) throw new ApiError('conflict', 'This saving was made in another study already.');
  const newest = await Revision.findOne({ where: { patchId: patch.id }, order: [['number', 'DESC']], transaction });
  if ((newest?.number ?? null) !== base) {
    throw new ApiError(
      'conflict',
      `The patch was changed in another window meanwhile: revision ${newest?.number ?? 0} came after ${base ?? 'none'}.`,
      newest && revisionDocument(newest),
    );
  }
  const document = parsePackedPatch(changes ? changed(newest!.document, changes) : whole);
  const joined = newest !== null && name === null && isGoneOnWith(newest) ? newest : null;
  const earlier = joined
    ? await Revision.findOne({
        where: { patchId: patch.id, number: { [Op.lt]: joined.number } },
        order: [['number', 'DESC']],
        transaction,
      })
    : newest;
  const revision = await Revision.create(
    {
      patchId: patch.id,
      number: (newest?.number ?? 0) + 1,
      name,
      document,
      saveId,
      summary: earlier ? (changeSummary(parsePackedPatch(earlier.document), document) ?? null) : FIRST,
      ...(joined ? { begunAt: joined.begunAt } : {}),
    },
    { transaction },
  );
  await referTo(database, 'revision', revision.id, document, transaction);
  await joined?.destroy({ transaction });
  await forgetOldRevisions(database, patch.id, transaction);
  return revision;
}

function changed(document: PackedPatch, changes: PatchChanges): unknown {
  try {
    // Only what was checked by the contract comes here: no tests, no moves, and each with a place.
    return jsonPatch.applyPatch(document, changes as Operation[], true, false).newDocument;
  } catch (error) {
    const [reason] = (error as Error).message.split('\n');
    throw new ApiError('badRequest', `The changes do not fit the revision that they are based on: ${reason}.`);
  }
}

/**
 * Writes down which bytes a patch plays, so that they are kept as long as it is.
 * Throws an InputError when some were never sent, or hold what is no sound.
 */
export async function referTo(
  database: Database,
  owner: 'revision' | 'proof' | 'run',
  ownerId: string,
  patch: PackedPatch,
  transaction: Transaction,
): Promise<void> {
  const contents = contentsOf(patch);
  if (contents.length === 0) return;
  await lock(database, 'blobs', 'together', transaction);
  const blobs = await database.Blob.findAll({
    where: { sha256: { [Op.in]: contents.map(({ sha256 }) => sha256) } },
    transaction,
  });
  const blobOf = new Map(blobs.map((blob) => [blob.sha256, blob]));
  for (const { sha256, byteLength } of contents) {
    const blob = blobOf.get(sha256);
    if (Number(blob?.byteLength) !== byteLength) {
      throw new InputError(
        `The patch plays bytes that were not sent: ${byteLength} bytes of hash ${sha256.slice(0, 12)}…. Put them at /api/contents first.`,
      );
    }
  }
  await checkFrames(database, patch, blobOf, transaction);
  await database.sequelize.query(
    `INSERT INTO ${owner}_blobs (${owner}_id, blob_id) SELECT :ownerId, id FROM blobs WHERE id IN (:blobIds)
     ON CONFLICT DO NOTHING`,
    { replacements: { ownerId, blobIds: blobs.map(({ id }) => id) }, transaction },
  );
}

/** Tables whose bytes no patch has played yet must hold numbers. */
async function checkFrames(
  database: Database,
  { wavetables }: PackedPatch,
  blobOf: ReadonlyMap<string, BlobRow>,
  transaction: Transaction,
): Promise<void> {
  for (const table of wavetables) {
    const blob = blobOf.get(table.frames.sha256)!;
    const played = await database.sequelize.query('SELECT 1 FROM revision_blobs WHERE blob_id = :id LIMIT 1', {
      replacements: { id: blob.id },
      type: QueryTypes.SELECT,
      transaction,
    });
    if (played.length === 0) samplesOfFrames(table, await bytesOf(database, blob, transaction));
  }
}

async function forgetOldRevisions({ Revision }: Database, patchId: string, transaction: Transaction): Promise<void> {
  const unnamed = await Revision.findAll({
    where: { patchId, [Op.not]: { [Op.or]: KEPT_FOR_GOOD } },
    attributes: ['id'],
    order: [['number', 'DESC']],
    offset: KEPT_UNNAMED,
    transaction,
  });
  if (unnamed.length > 0)
    await Revision.destroy({ where: { id: { [Op.in]: unnamed.map(({ id }) => id) } }, transaction });
}
