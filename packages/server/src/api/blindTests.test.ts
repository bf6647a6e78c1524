import { randomUUID } from 'node:crypto';
import { blindTestSchema } from '@imprint/contract/blindTests';
import { nowhere, openApi } from '../../test/api';

let api: Awaited<ReturnType<typeof openApi>>;
beforeAll(async () => {
  api = await openApi();
});
afterAll(() => api.close());

it('keeps every answer as it is given, once, and in order', async () => {
  const studyId = await api.newStudy(220);
  const fields = { id: randomUUID(), what: 'Patch, revision 3', planned: 2 };
  for (let i = 0; i < 2; i++)
    expect((await api.call('POST', `/studies/${studyId}/blind-tests`, fields)).status).toBe(201);
  const right = { isPatch: true, saidPatch: true };
  const wrong = { isPatch: true, saidPatch: false };
  const answer = async (...trials: (typeof right)[]) =>
    (await api.call('PUT', `/blind-tests/${fields.id}/trials`, { trials })).status;
  // The second overtakes the first; what is kept is not answered anew.
  expect(await answer(right, wrong)).toBe(200);
  expect(await answer(right)).toBe(200);
  expect(await answer(wrong, right)).toBe(200);
  expect(await answer(right, wrong, right)).toBe(409);
  expect(await answer()).toBe(400);
  await api.server.stop();
  await api.restart();
  const tests = blindTestSchema.array().parse((await api.call('GET', `/studies/${studyId}/blind-tests`)).body);
  expect(tests).toHaveLength(1);
  expect(tests[0]).toMatchObject({ ...fields, trials: [right, wrong] });
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
