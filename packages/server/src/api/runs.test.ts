import { randomUUID } from 'node:crypto';
import { runEventSchema, runResultSchema, runSchema } from '@imprint/contract/runs';
import { plainPatch } from '../../../core/test/patches';
import { messageOf, nowhere, openApi } from '../../test/api';
import { startWorker } from '../../test/testServer';
import { thorough } from '../../../core/test/thorough';

type Api = Awaited<ReturnType<typeof openApi>>;
let api: Api;
beforeAll(async () => {
  api = await openApi();
});
afterAll(() => api.close());

const run = (body: unknown) => runSchema.parse(body);

async function newCut(f0Hz: number): Promise<{ studyId: string; cutId: string }> {
  const studyId = await api.newStudy(f0Hz);
  const cut = { name: 'Note', role: 'long note', fromSeconds: 0, toSeconds: 1 };
  const { body } = await api.call('POST', `/studies/${studyId}/cuts`, cut);
  return { studyId, cutId: (body as { id: string }).id };
}

const begin = (studyId: string, cutId: string, others: object = {}) =>
  api.call('POST', `/studies/${studyId}/runs`, {
    cutIds: [cutId],
    structure: 'plain',
    budgetSeconds: 2,
    ...others,
  });

/** What the stream of events tells, until something is so. */
async function eventsUntil(studyId: string, isSo: (event: ReturnType<typeof runEventSchema.parse>) => boolean) {
  const abort = new AbortController();
  const response = await fetch(`${api.server.url}/api/studies/${studyId}/runs/events`, { signal: abort.signal });
  expect(response.headers.get('content-type')).toBe('text/event-stream');
  const events = [];
  let text = '';
  for await (const part of response.body!.pipeThrough(
    new TextDecoderStream() as never,
  ) as unknown as AsyncIterable<string>) {
    text += part;
    for (let end = text.indexOf('\n\n'); end >= 0; end = text.indexOf('\n\n')) {
      const [line] = [text.slice(0, end)];
      text = text.slice(end + 2);
      if (!line.startsWith('data:')) continue;
      events.push(runEventSchema.parse(JSON.parse(line.slice(5))));
      if (isSo(events.at(-1)!)) {
        abort.abort();
        return events;
      }
    }
  }
  throw new Error('The stream ended.');
}

describe('Without a worker', () => {
  it('a run waits, says that nobody works, and the same one asked for twice is one', async () => {
    const { studyId, cutId } = await newCut(220);
    const id = randomUUID();
    const first = await begin(studyId, cutId, { id });
    expect(first.status).toBe(201);
    expect(run(first.body)).toMatchObject({ id, state: 'waiting', seed: 1, only: [], overallJnd: null });
    await begin(studyId, cutId, { id });
    const event = runEventSchema.parse((await api.call('GET', `/studies/${studyId}/runs`)).body);
    expect(event.runs.map((one) => one.id)).toEqual([id]);
    expect(event.slots).toBe(0);
  });

  it('a run that waits ends at once when it is to, and can be deleted', async () => {
    const { studyId, cutId } = await newCut(220);
    const { id } = run((await begin(studyId, cutId)).body);
    expect(run((await api.call('POST', `/runs/${id}/end`)).body).state).toBe('cancelled');
    expect((await api.call('DELETE', `/runs/${id}`)).status).toBe(204);
    expect((await api.call('GET', `/runs/${id}`)).status).toBe(404);
  });

  it('one study that asks for much does not keep another waiting', async () => {
    const [much, little] = [await newCut(220), await newCut(330)];
    const ids: string[] = [];
    for (const { studyId, cutId } of [much, much, much, little, much, little])
      ids.push(run((await begin(studyId, cutId)).body).id);
    // In the order in which the queue hands them out.
    const jobs = (await api.rows(
      `SELECT key FROM graphile_worker.jobs WHERE key IN (${ids.map((id) => `'${id}'`).join()})
       ORDER BY priority, run_at, id`,
    )) as { key: string }[];
    expect(jobs.map(({ key }) => ids.indexOf(key))).toEqual([0, 3, 1, 5, 2, 4]);
    for (const id of ids) await api.call('POST', `/runs/${id}/end`);
  });

  it.each([
    ['no cut', { cutIds: [] }, 400],
    ['a cut that is nowhere', { cutIds: [nowhere] }, 404],
    ['no such structure', { structure: 'best' }, 400],
    ['no such stage', { only: ['everything'] }, 400],
    ['no time', { budgetSeconds: 0 }, 400],
  ])('refuses a run with %s in words', async (_what, fields, status) => {
    const { studyId, cutId } = await newCut(220);
    const answer = await begin(studyId, cutId, fields);
    expect(answer.status).toBe(status);
    expect(messageOf(answer.body).message.length).toBeGreaterThan(10);
  });

  it('a page that listens does not keep the server from stopping', async () => {
    const { studyId } = await newCut(220);
    const { body } = await fetch(`${api.server.url}/api/studies/${studyId}/runs/events`);
    const started = Date.now();
    await api.server.stop();
    expect(Date.now() - started).toBeLessThan(4900);
    await body?.cancel().catch(() => undefined);
    await api.restart();
  });

  it('refuses a cut of another study', async () => {
    const [a, b] = [await newCut(220), await newCut(330)];
    expect((await begin(a.studyId, b.cutId)).status).toBe(400);
  });
});

describe('With a worker', () => {
  let worker: Awaited<ReturnType<typeof startWorker>>;
  beforeAll(async () => {
    worker = await startWorker(api.database.url);
  });
  afterAll(() => worker.stop());

  it('a run tells how it gets on, and ends with a candidate and the reading of its cut', async () => {
    const { studyId, cutId } = await newCut(220);
    const { id } = run((await begin(studyId, cutId)).body);
    const events = await eventsUntil(studyId, ({ runs: [own] }) => own.state === 'done');
    expect(events.some(({ runs: [own] }) => own.state === 'running' && own.seconds > 0)).toBe(true);
    expect(events.at(-1)!.slots).toBe(1);
    const result = runResultSchema.parse((await api.call('GET', `/runs/${id}`)).body);
    expect(result.notes).toHaveLength(1);
    const [candidate] = result.candidates;
    expect(candidate.kind).toBe('plain');
    expect(candidate.overallJnd).toBeLessThan(4);
    expect(candidate.picture.referenceDb).toHaveLength(candidate.picture.centresHz.length);
    expect(result.best).toEqual(candidate.patch);
    expect(result.run.curve.length).toBeGreaterThan(1);
    expect((await api.call('GET', `/cuts/${cutId}/reading`)).body).toMatchObject({ fromSeconds: 0, toSeconds: 1 });
    // A study without a patch has one now, whether a page is open or not.
    const kept = (await api.call('GET', `/studies/${studyId}/patch`)).body as { patch: { layers: unknown } };
    expect(kept.patch.layers).toEqual(candidate.patch.layers);
  });

  thorough.it('a run from a patch turns only what may move, and leaves what is locked', async () => {
    const { studyId, cutId } = await newCut(220);
    const patch = plainPatch('saw');
    patch.layers[0].amp.attackSeconds = 0.07;
    const others = {
      fromPatch: await api.pack(patch),
      only: ['level'],
      locks: ['amp.attackSeconds'],
      budgetSeconds: 8,
    };
    const { id } = run((await begin(studyId, cutId, others)).body);
    await eventsUntil(studyId, ({ runs: [own] }) => own.state === 'done');
    const { candidates } = runResultSchema.parse((await api.call('GET', `/runs/${id}`)).body);
    const [{ sources, amp }] = candidates[0].patch.layers;
    expect(sources).toEqual(patch.layers[0].sources);
    expect(amp.attackSeconds).toBe(0.07);
    expect(amp).not.toEqual(patch.layers[0].amp);
  });

  thorough.it('a run that is ended keeps what it has found', async () => {
    const { studyId, cutId } = await newCut(220);
    const { id } = run((await begin(studyId, cutId, { budgetSeconds: 600 })).body);
    await eventsUntil(studyId, ({ runs: [own] }) => own.overallJnd !== null);
    await api.call('POST', `/runs/${id}/end`);
    await eventsUntil(studyId, ({ runs: [own] }) => own.state === 'cancelled');
    const { candidates } = runResultSchema.parse((await api.call('GET', `/runs/${id}`)).body);
    expect(candidates).toHaveLength(1);
  });

  it('a run of what has no pitch says so, and one of a study that is deleted ends quietly', async () => {
    const { studyId, cutId } = await newCut(220);
    await api.query(`UPDATE cuts SET from_seconds = 0, to_seconds = 0.08 WHERE id = '${cutId}'`);
    await begin(studyId, cutId);
    const events = await eventsUntil(studyId, ({ runs: [own] }) => own.state === 'failed');
    expect(events.at(-1)!.runs[0].failure).toContain('No pitch was found');

    const other = await newCut(330);
    const { id } = run((await begin(other.studyId, other.cutId, { budgetSeconds: 600 })).body);
    await eventsUntil(other.studyId, ({ runs: [own] }) => own.overallJnd !== null);
    await api.call('DELETE', `/studies/${other.studyId}`);
    let state = '';
    for (let tries = 0; tries < 1000 && state !== 'cancelled'; tries++) {
      await new Promise((resolve) => setTimeout(resolve, 100));
      [{ state }] = (await api.rows(`SELECT state FROM match_runs WHERE id = '${id}'`)) as [{ state: string }];
    }
    expect(state).toBe('cancelled');
  });
});
