import type { Logger } from 'pino';
import { InputError } from '@imprint/core/patch/inputError';
import type { MatchState } from '@imprint/core/matching/match';
import { pieceTraits } from '@imprint/core/reading/piece/piece';
import type { ReadingContext } from '@imprint/core/reading/read';
import { bytesOf } from '../blobs';
import type { Database } from '../database';
import type { ReferenceRow, RunRow, StudyRow } from '../models/models';
import type { MatchFound, MatchTask } from '../threads/matcher';
import type { Matchers } from '../threads/matchers';
import { type RunNews, failRun, finishRun, releaseRun, reportRun, takeRun } from './lease';
import { createRunLog } from './runLog';
import { unpackFrom } from './patches';

/** How often the database hears how far a run is. */
const REPORT_MS = 500;
const RETRY_MS = 1000;
/** What is left of a budget at the least when a run is gone on with. */
const LEAST_SECONDS = 2;

interface Workshop {
  database: Database;
  matchers: Matchers;
  log: Logger;
  /** Aborted when the worker is to stop: what it is at goes back to the queue. */
  stopping: AbortSignal;
}

/** Works on a run to its end, unless it is in other hands by then. */
export async function workOnRun(id: string, lease: string, workshop: Workshop): Promise<void> {
  const { database, stopping } = workshop;
  const run = await takeRun(database, id, lease);
  if (!run) return;
  const runLog = createRunLog(run);
  let wish: Awaited<ReturnType<typeof reportRun>> = 'goOn';
  const watch = whileRunning(async () => {
    const news = runLog.news();
    wish = await reportRun(database, id, lease, news);
    runLog.told(news);
  }, workshop);
  const tell = (state: MatchState): boolean => {
    runLog.add(state);
    return wish !== 'goOn' || stopping.aborted;
  };
  try {
    const { task, reference } = await taskOf(database, run);
    const found = await matchWith(workshop, task, reference, tell);
    await watch.end();
    if (stopping.aborted && found.isCancelled) await giveBack(workshop, id, lease, runLog.news());
    else await persist(() => finishRun(database, id, lease, task, found, runLog.news()), workshop);
  } catch (error) {
    await watch.end();
    if (stopping.aborted) return giveBack(workshop, id, lease, runLog.news());
    // It comes from a thread, where it lost its class.
    if ((error as Error).name !== InputError.name) workshop.log.error({ error, run: id }, 'A run has failed.');
    await persist(() => failRun(database, id, lease, (error as Error).message), workshop);
  }
}

async function giveBack({ database }: Workshop, id: string, lease: string, news: RunNews): Promise<void> {
  await reportRun(database, id, lease, news);
  await releaseRun(database, id, lease);
}

/** Does something again and again, one after the other; a database that is away does not end it. */
function whileRunning(action: () => Promise<void>, { log }: Workshop) {
  let isOver = false;
  let wake = () => {};
  const rest = () =>
    new Promise<void>((resolve) => {
      wake = resolve;
      setTimeout(resolve, REPORT_MS);
    });
  const running = (async () => {
    for (await rest(); !isOver; await rest())
      await action().catch((error: unknown) => log.debug({ error }, 'The database does not hear of a run.'));
  })();
  return {
    end: async () => {
      isOver = true;
      wake();
      await running;
    },
  };
}

/** Writes what must not be lost down as soon as the database is there. */
async function persist(write: () => Promise<void>, { log, stopping }: Workshop): Promise<void> {
  for (;;) {
    try {
      return await write();
    } catch (error) {
      if (stopping.aborted) throw error;
      log.debug({ error }, 'What a run has found cannot be kept yet; it is tried again.');
      await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
    }
  }
}

function matchWith(
  { database, matchers }: Workshop,
  task: MatchTask,
  reference: ReferenceRow,
  tell: (state: MatchState) => boolean,
): Promise<MatchFound> {
  return matchers.match(task, () => bytesOf(database, reference.blob!), tell);
}

/** What a run is to do, from what is in the database now. */
async function taskOf(database: Database, run: RunRow): Promise<{ task: MatchTask; reference: ReferenceRow }> {
  const { Study, Reference, Cut, Reading } = database;
  const { cutIds, structure, only, locks, budgetSeconds, seed } = run.settings;
  const study = await Study.findByPk(run.studyId, { rejectOnEmpty: true });
  const reference = await Reference.findByPk(study.referenceId, {
    include: [{ association: 'blob' }],
    rejectOnEmpty: true,
  });
  const cuts = await Cut.findAll({ where: { id: cutIds, studyId: study.id, deletedAt: null } });
  const readings = await Reading.findAll({ where: { cutId: cutIds } });
  const chosen = cutIds.map((id) => cuts.find((cut) => cut.id === id));
  const [main] = chosen;
  if (!main) throw new InputError('The cut of this run is no longer there. It may be in the trash.');
  const spent = run.progress.seconds ?? 0;
  return {
    reference,
    task: {
      name: study.title,
      sha256: reference.blob!.sha256,
      structure,
      ...(only.length > 0 ? { only } : {}),
      locks,
      budgetSeconds: Math.max(LEAST_SECONDS, budgetSeconds - spent),
      seed,
      ...(run.fromPatch ? { fromPatch: await unpackFrom(database, run.fromPatch) } : {}),
      ...(run.best ? { resumed: await unpackFrom(database, run.best) } : {}),
      overrules: main.overrules,
      context: contextOf(study, reference),
      cuts: chosen.flatMap((cut) => {
        if (!cut) return [];
        const { fromSeconds, toSeconds, isolation } = cut;
        const notes = cut.notes ?? readings.find(({ cutId }) => cutId === cut.id)?.document.notes ?? [];
        return [{ fromSeconds, toSeconds, isolation, notes }];
      }),
    },
  };
}

/** What the whole file tells about a cut. */
function contextOf({ grid }: StudyRow, { overview }: ReferenceRow): ReadingContext {
  if (!overview) return {};
  const traits = pieceTraits(overview.piece);
  return { piece: grid ? { ...traits, tempo: { bpm: grid.bpm, confidence: 1 } } : traits };
}
