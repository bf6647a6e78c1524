import { randomUUID } from 'node:crypto';
import { blindTestSchema } from '@imprint/contract/blindTests';
import { nowhere, openApi } from '../../test/api';

let api: Awaited<ReturnType<typeof openApi>>;
beforeAll(async () => {
  api = await openApi();
}, 60_000);
afterAll(() => api.close());

it('keeps every answer as it is given, once, and in order', async () => {
  const studyId = await api.newStudy(220);
  const fields = { id: randomUUID(), what: 'Patch, revision 3', planned: 2 };
  for (let i = 0; i < 2; i++)
    expect((await api.call('POST', `/studies/${studyId}/blind-tests`, fields)).status).toBe(201);
  const answer = (number: number, saidPatch: boolean) =>
    api.call('POST', `/blind-tests/${fields.id}/trials`, { number, isPatch: true, saidPatch });
  expect((await answer(1, true)).status).toBe(409);
  await answer(0, true);
  await answer(0, false);
  await answer(1, false);
  expect((await answer(2, false)).status).toBe(409);
  await api.server.stop();
  await api.restart();
  const tests = blindTestSchema.array().parse((await api.call('GET', `/studies/${studyId}/blind-tests`)).body);
  expect(tests).toHaveLength(1);
  expect(tests[0]).toMatchObject({
    ...fields,
    trials: [
      { isPatch: true, saidPatch: true },
      { isPatch: true, saidPatch: false },
    ],
  });
  expect((await api.call('DELETE', `/blind-tests/${fields.id}`)).status).toBe(204);
  expect((await api.call('GET', `/studies/${studyId}/blind-tests`)).body).toEqual([]);
});

it.each([
  ['of no study', nowhere, { what: 'Patch', planned: 8 }, 404],
  ['of no trials', null, { what: 'Patch', planned: 0 }, 400],
])('refuses a test %s', async (_what, studyId, fields, status) => {
  const id = studyId ?? (await api.newStudy(220));
  expect((await api.call('POST', `/studies/${id}/blind-tests`, { id: randomUUID(), ...fields })).status).toBe(status);
});
