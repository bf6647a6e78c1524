import { QueryTypes, type Transaction } from 'sequelize';
import type { PhraseNote } from '@imprint/core/engine/render';
import type { Patch } from '@imprint/core/patch/schema';
import { atTrackTempo } from '@imprint/core/patch/tempo';
import { trackBpm } from '@imprint/core/reading/piece/tempo';
import { readingSchema } from '@imprint/core/reading/schema';
import { keepRevision, newestRevisionNumber } from '../api/revisions';
import type { Database } from '../database';
import type { RunProgress, RunRow } from '../models/models';
import type { MatchFound, MatchTask } from '../threads/matcher';
import { inTransaction } from '../transactions';
import { packOfRun } from './patches';
import { enqueue } from './queue';

/** What so many workers died of is not tried again. */
const MOST_ATTEMPTS = 4;

/**
 * Takes a run for a worker. Null when there is nothing to do any more: it has ended, or its study is gone.
 */
export async function takeRun(database: Database, id: string, lease: string): Promise<RunRow | null> {
  return inTransaction(database, async (transaction) => {
    const run = await database.Run.findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
    if (!run || !isOpen(run)) return null;
    const study = await database.Study.findByPk(run.studyId, { transaction });
    const revision = run.revision + 1;
    if (run.wantsEnd || !study || study.deletedAt) {
      await run.update({ state: 'cancelled', revision, lease: null, endedAt: new Date() }, { transaction });
      return null;
    }
    if (run.attempts >= MOST_ATTEMPTS) {
      const failure = `This run ended the worker that was at it ${MOST_ATTEMPTS} times, so it is not tried again. A shorter cut may do.`;
      await run.update({ state: 'failed', revision, failure, lease: null, endedAt: new Date() }, { transaction });
      return null;
    }
    const attempts = run.attempts + 1;
    await run.update({ state: 'running', revision, attempts, lease, failure: null }, { transaction });
    await database.sequelize.query('UPDATE match_runs SET alive_at = now() WHERE id = :id', {
      replacements: { id },
      transaction,
    });
    return run;
  });
}

const isOpen = ({ state }: RunRow) => state === 'waiting' || state === 'running';

/** What became known of a run. */
export interface RunNews {
  progress: RunProgress;
  curve: RunRow['curve'];
  overallJnd: number | null;
  /** Of the cut, once they are known. */
  notes: readonly PhraseNote[];
  /** The best patch, where there is a better one than was told of before. */
  best?: Patch;
}

/**
 * Says that a run is being worked on, and what is known of it. Tells how to go on: `end` it with what there
 * is, since that was asked for or its study is gone; or `lost`, since it is in other hands.
 */
export async function reportRun(
  database: Database,
  id: string,
  lease: string,
  { progress, curve, overallJnd, notes, best }: RunNews,
): Promise<'goOn' | 'end' | 'lost'> {
  return inTransaction(database, async (transaction) => {
    const packed = best && (await packOfRun(database, id, best, transaction));
    const [row] = await database.sequelize.query<{ wantsEnd: boolean; isGone: boolean }>(
      `UPDATE match_runs r SET alive_at = now(), revision = revision + 1, progress = :progress, curve = :curve,
         overall_jnd = :overallJnd, notes = :notes,
         best = coalesce(:best, best)
       WHERE id = :id AND lease = :lease AND state = 'running'
       RETURNING wants_end AS "wantsEnd",
         (SELECT deleted_at IS NOT NULL FROM studies s WHERE s.id = r.study_id) AS "isGone"`,
      {
        replacements: {
          id,
          lease,
          overallJnd,
          progress: JSON.stringify(progress),
          curve: JSON.stringify(curve),
          notes: JSON.stringify(notes),
          best: packed ? JSON.stringify(packed) : null,
        },
        type: QueryTypes.SELECT,
        transaction,
      },
    );
    if (!row) return 'lost';
    return row.wantsEnd || row.isGone ? 'end' : 'goOn';
  });
}

/** Keeps what a run has found, and the reading that it was made of. Nothing when it is in other hands. */
export async function finishRun(
  database: Database,
  id: string,
  lease: string,
  task: MatchTask,
  found: MatchFound,
  news: RunNews,
): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const run = await heldRun(database, id, lease, transaction);
    if (!run) return;
    for (const [rank, { patch, ...candidate }] of found.candidates.entries()) {
      const packed = await packOfRun(database, id, patch, transaction);
      if (rank === 0) run.best = packed;
      await database.Candidate.create({ runId: id, rank, patch: packed, ...candidate }, { transaction });
    }
    // The study before the cut, as everywhere.
    if (found.candidates.length > 0) await keepFirstPatch(database, run, found.candidates[0].patch, transaction);
    await keepReading(database, run.settings.cutIds[0], task, found, transaction);
    await run.update(
      {
        best: run.best,
        state: found.isCancelled ? 'cancelled' : 'done',
        revision: run.revision + 1,
        overallJnd: found.candidates[0]?.overallJnd ?? null,
        progress: { ...news.progress, fraction: 1 },
        curve: news.curve,
        notes: [...news.notes],
        recommendation: found.recommendation,
        lease: null,
        endedAt: new Date(),
      },
      { transaction },
    );
  });
}

/** Says why a run has failed. */
export async function failRun(database: Database, id: string, lease: string, failure: string): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const run = await heldRun(database, id, lease, transaction);
    const ended = { state: 'failed', failure, lease: null, endedAt: new Date() } as const;
    await run?.update({ ...ended, revision: run.revision + 1 }, { transaction });
  });
}

/** Gives a run back to the queue: its worker is stopping. */
export async function releaseRun(database: Database, id: string, lease: string): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const run = await heldRun(database, id, lease, transaction);
    if (!run) return;
    // That a worker was stopped says nothing against the run.
    const before = { state: 'waiting', lease: null, attempts: run.attempts - 1 } as const;
    await run.update({ ...before, revision: run.revision + 1 }, { transaction });
    await enqueue(database, run, transaction);
  });
}

async function heldRun({ Run }: Database, id: string, lease: string, transaction: Transaction): Promise<RunRow | null> {
  return Run.findOne({ where: { id, lease, state: 'running' }, transaction, lock: transaction.LOCK.UPDATE });
}

/** A study without a patch takes the one that is recommended, whether a page is open or not. */
async function keepFirstPatch(
  database: Database,
  { id, studyId, best }: RunRow,
  patch: Patch,
  transaction: Transaction,
): Promise<void> {
  const study = await database.Study.findByPk(studyId, { transaction, lock: transaction.LOCK.UPDATE });
  if (!study || !best || (await newestRevisionNumber(database, studyId, transaction)) !== null) return;
  const { overview } = await database.Reference.findByPk(study.referenceId, { transaction, rejectOnEmpty: true });
  // What is told of the whole file may have come after the run had begun.
  const { bpm } = atTrackTempo(patch, trackBpm(study.grid, overview?.piece.tempo));
  await keepRevision(database, studyId, { saveId: id, base: null, patch: { ...best, bpm }, name: null }, transaction);
}

/** The reading of the cut, unless the cut was changed or deleted meanwhile. */
async function keepReading(
  { Cut, Reading }: Database,
  cutId: string,
  { cuts: [used] }: MatchTask,
  { reading }: MatchFound,
  transaction: Transaction,
): Promise<void> {
  const cut = await Cut.findByPk(cutId, { transaction, lock: transaction.LOCK.UPDATE });
  const { fromSeconds, toSeconds, isolation } = used;
  const isSame =
    cut?.fromSeconds === fromSeconds &&
    cut.toSeconds === toSeconds &&
    JSON.stringify(cut.isolation) === JSON.stringify(isolation);
  if (!isSame) return;
  await Reading.destroy({ where: { cutId }, transaction });
  const document = readingSchema.parse(reading);
  await Reading.create({ cutId, fromSeconds, toSeconds, document }, { transaction });
}
