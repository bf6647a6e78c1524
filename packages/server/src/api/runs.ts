import { Router } from 'express';
import { QueryTypes } from 'sequelize';
import { type RunResult, newRunSchema } from '@imprint/contract/runs';
import { parsePackedPatch } from '@imprint/core/patch/parse';
import type { Database } from '../database';
import { ApiError } from '../errors';
import type { RunRow } from '../models/models';
import { enqueue } from '../runs/queue';
import { inTransaction } from '../transactions';
import { candidateDocument, runDocument } from './documents';
import { findRow, findStudy } from './find';
import { referTo } from './revisions';
import { createRunFeed } from './runFeed';

/** Runs of a study that are kept: the newest. */
const KEPT_RUNS = 40;
/** Runs of a study that can wait or be worked on at once. */
const MOST_OPEN = 30;

/** Matches: jobs for the workers, whose news come from the database. */
export function runsRouter(database: Database): Router {
  const router = Router();
  const { Run, Candidate, Cut } = database;
  const feed = createRunFeed(database);

  router.post('/studies/:id/runs', async (request, response) => {
    const { id, fromPatch, only = [], locks = [], seed = 1, ...others } = newRunSchema.parse(request.body);
    const patch = fromPatch && parsePackedPatch(fromPatch);
    const settings = { ...others, only, locks, seed };
    const run = await inTransaction(database, async (transaction) => {
      const study = await findStudy(database, request.params.id, { transaction, hold: 'change' });
      const known = id === undefined ? null : await Run.findByPk(id, { transaction });
      if (known && known.studyId !== study.id)
        throw new ApiError('conflict', 'There is a run of this id in another study.');
      if (known) return known;
      const cuts = await Cut.findAll({ where: { id: settings.cutIds, deletedAt: null }, transaction });
      if (cuts.some(({ studyId }) => studyId !== study.id))
        throw new ApiError('badRequest', 'A cut of this run belongs to another study.');
      if (cuts.length < new Set(settings.cutIds).size)
        throw new ApiError('notFound', 'A cut of this run is no longer there. It may be in the trash.');
      const open = await Run.count({ where: { studyId: study.id, state: ['waiting', 'running'] }, transaction });
      if (open >= MOST_OPEN)
        throw new ApiError('conflict', `${open} runs of this study wait already. Cancel some of them first.`);
      const made = await Run.create(
        { ...(id === undefined ? {} : { id }), studyId: study.id, settings, fromPatch: patch },
        { transaction },
      );
      if (patch) await referTo(database, 'run', made.id, patch, transaction);
      await enqueue(database, made, transaction);
      await database.sequelize.query(
        `DELETE FROM match_runs WHERE study_id = :studyId AND state NOT IN ('waiting', 'running') AND id NOT IN
           (SELECT id FROM match_runs WHERE study_id = :studyId ORDER BY created_at DESC LIMIT ${KEPT_RUNS})`,
        { replacements: { studyId: study.id }, transaction },
      );
      return made;
    });
    feed.look();
    response.status(201).json(runDocument(run));
  });

  router.get('/studies/:id/runs', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    response.json(await feed.now(study.id));
  });

  /** What becomes known of the runs of a study, as server-sent events (HTML standard, 9.2). */
  router.get('/studies/:id/runs/events', async (request, response) => {
    const study = await findStudy(database, request.params.id);
    feed.follow(study.id, response);
  });

  router.get('/runs/:id', async (request, response) => {
    const run = await findRun(request.params.id);
    const rows = await Candidate.findAll({ where: { runId: run.id }, order: [['rank', 'ASC']] });
    const result: RunResult = {
      run: runDocument(run),
      notes: run.notes,
      best: run.best && parsePackedPatch(run.best),
      candidates: rows.map(candidateDocument),
    };
    response.json(result);
  });

  /** Ends a run with what it has found so far. */
  router.post('/runs/:id/end', async (request, response) => {
    await findRun(request.params.id);
    await database.sequelize.query(
      `UPDATE match_runs SET wants_end = true, revision = revision + 1,
         ended_at = CASE WHEN state = 'waiting' THEN now() ELSE ended_at END,
         state = CASE WHEN state = 'waiting' THEN 'cancelled' ELSE state END
       WHERE id = :id AND state IN ('waiting', 'running')`,
      { replacements: { id: request.params.id }, type: QueryTypes.UPDATE },
    );
    feed.look();
    response.json(runDocument(await findRun(request.params.id)));
  });

  router.delete('/runs/:id', async (request, response) => {
    const run = await findRun(request.params.id);
    // Whoever is at it finds it gone.
    await run.destroy();
    feed.look();
    response.status(204).end();
  });

  async function findRun(id: string): Promise<RunRow> {
    const run = await findRow(Run, id, 'run');
    await findStudy(database, run.studyId);
    return run;
  }

  return router;
}
