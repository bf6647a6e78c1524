import { runEventSchema, runResultSchema, runSchema } from '@imprint/contract/runs';
import { openApi } from '../../test/api';
import { startWorker } from '../../test/testServer';
import { thorough } from '../../../core/test/thorough';

/** Nobody waits as long as in earnest. */
const quick = { WORKER_GONE_SECONDS: '4' };

type Api = Awaited<ReturnType<typeof openApi>>;
let api: Api;
beforeAll(async () => {
  api = await openApi(quick);
});
afterAll(() => api.close());

const pause = (milliseconds: number) => new Promise((resolve) => setTimeout(resolve, milliseconds));

async function begin(f0Hz: number, budgetSeconds: number): Promise<{ studyId: string; runId: string }> {
  const studyId = await api.newStudy(f0Hz);
  const cut = { name: 'Note', role: 'long note', fromSeconds: 0, toSeconds: 0.6 };
  const { id } = (await api.call('POST', `/studies/${studyId}/cuts`, cut)).body as { id: string };
  const fields = { cutIds: [id], structure: 'plain', budgetSeconds };
  const run = runSchema.parse((await api.call('POST', `/studies/${studyId}/runs`, fields)).body);
  return { studyId, runId: run.id };
}

const stateOf = async (studyId: string) => {
  const { body } = await api.call('GET', `/studies/${studyId}/runs`);
  return runEventSchema.parse(body).runs[0];
};

async function until(isSo: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 1800; tries++) {
    if (await isSo()) return;
    await pause(100);
  }
  throw new Error('This did not come about in time.');
}

thorough.it('every run ends once, whoever is killed meanwhile, and the best so far is gone on with', async () => {
  const workers = [await startWorker(api.database.url, quick), await startWorker(api.database.url, quick)];
  const runs = [await begin(220, 3), await begin(262, 3), await begin(330, 1), await begin(392, 1)];
  const [first] = runs;
  await until(async () => (await stateOf(first.studyId)).overallJnd !== null);
  const before = (await stateOf(first.studyId)).overallJnd!;
  // One worker at its work, and the server while a page may ask.
  workers[0].process.kill('SIGKILL');
  api.server.process.kill('SIGKILL');
  await pause(500);
  await api.restart();
  workers.push(await startWorker(api.database.url, quick));
  await until(async () =>
    (await Promise.all(runs.map(({ studyId }) => stateOf(studyId)))).every(({ state }) => state === 'done'),
  );
  for (const { runId } of runs) {
    const { candidates, run } = runResultSchema.parse((await api.call('GET', `/runs/${runId}`)).body);
    expect(candidates).toHaveLength(1);
    expect(run.overallJnd).toBe(candidates[0].overallJnd);
  }
  expect((await stateOf(first.studyId)).overallJnd!).toBeLessThan(before + 0.5);
  const attempts = (await api.rows('SELECT attempts FROM match_runs ORDER BY attempts')) as { attempts: number }[];
  expect(attempts.at(-1)!.attempts).toBe(2);
  // Nothing is left in the queue, not even what the killed one held.
  await until(async () => (await api.rows('SELECT 1 FROM graphile_worker.jobs')).length === 0);
  await Promise.all(workers.slice(1).map(({ stop }) => stop()));
});

thorough.it('a worker that is stopped gives its run back, and the next one goes on with it', async () => {
  const worker = await startWorker(api.database.url, quick);
  const { studyId, runId } = await begin(220, 600);
  await until(async () => (await stateOf(studyId)).overallJnd !== null);
  await worker.stop();
  expect(await stateOf(studyId)).toMatchObject({ state: 'waiting' });
  const { best } = runResultSchema.parse((await api.call('GET', `/runs/${runId}`)).body);
  expect(best).not.toBeNull();
  const next = await startWorker(api.database.url, quick);
  await until(async () => (await stateOf(studyId)).state === 'running');
  await api.call('POST', `/runs/${runId}/end`);
  await until(async () => (await stateOf(studyId)).state === 'cancelled');
  await next.stop();
});

thorough.it('a run that was lost by the queue is put into it again', async () => {
  const { studyId } = await begin(220, 1);
  await api.query(
    "DELETE FROM graphile_worker._private_jobs; UPDATE match_runs SET created_at = now() - interval '1 minute' WHERE state = 'waiting'",
  );
  const worker = await startWorker(api.database.url, quick);
  await until(async () => (await stateOf(studyId)).state === 'done');
  await worker.stop();
});
