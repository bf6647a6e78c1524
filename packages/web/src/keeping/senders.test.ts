import type { Cut, Revision } from '@imprint/contract/api';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Patch } from '@imprint/core/patch/schema';
import { RequestError, client } from '../api/client';
import { cut, study } from '../../test/study';
import { packed } from './contents';
import { senders } from './senders';
import type { Unsent, UnsentBodies, UnsentKind } from './unsent';

const ID = '0b0e7a52-96c3-4bb1-9d1f-8a35c0a2b6d1';
const unsentOf = <K extends UnsentKind>(kind: K, body: UnsentBodies[K], base: number | null = 4) =>
  ({ kind, id: ID, studyId: 'a', base, saveId: 'save-1', sentIds: [], body }) as unknown as Unsent;
const send = (unsent: Unsent, keepalive = false) => senders[unsent.kind].send(unsent, { keepalive });

const louder = async (change: Partial<Patch> = {}) => packed({ ...emptyPatch(), ...change });
const keepPatch = jest.spyOn(client, 'keepPatch');
const addCut = jest.spyOn(client, 'addCut');
const changeCut = jest.spyOn(client, 'changeCut');

beforeEach(() => {
  keepPatch.mockReset().mockResolvedValue({ number: 5, saveId: 'save-1' } as Revision);
  addCut.mockReset();
  changeCut.mockReset();
});

describe('A patch', () => {
  it('goes as what changed since its revision', async () => {
    const before = await louder({ name: 'Before' });
    const body = { patch: { ...before, name: 'After' }, before, name: null };
    expect(await send(unsentOf('patch', body))).toMatchObject({ base: 5, saveId: 'save-1' });
    const [studyId, saving] = keepPatch.mock.calls[0];
    expect(studyId).toBe('a');
    expect(saving).toEqual({
      saveId: 'save-1',
      base: 4,
      name: null,
      changes: [{ op: 'replace', path: '/name', value: 'After' }],
    });
  });

  it('goes whole where there was none before, and where most of it changed', async () => {
    const patch = await louder({ name: 'New' });
    await send(unsentOf('patch', { patch, before: null, name: 'First' }));
    await send(unsentOf('patch', { patch, before: patch, name: null }, null));
    for (const [, saving] of keepPatch.mock.calls) expect(saving.patch).toEqual(patch);
  });

  it('that changed again before it was sent keeps where it began, and its name', async () => {
    const [first, second, third] = await Promise.all(['1', '2', '3'].map((name) => louder({ name })));
    const earlier = unsentOf('patch', { patch: second, before: first, name: 'Kept' });
    const later = unsentOf('patch', { patch: third, before: second, name: null });
    expect(senders.patch.join(earlier, later)).toEqual({ patch: third, before: first, name: 'Kept' });
  });

  it('that changed while it was sent goes on from what was sent, whose name is not given twice', async () => {
    const [first, second, third] = await Promise.all(['1', '2', '3'].map((name) => louder({ name })));
    const sent = unsentOf('patch', { patch: second, before: first, name: 'Kept' });
    const now = unsentOf('patch', { patch: third, before: first, name: 'Kept' });
    expect(senders.patch.rebase(now, sent)).toEqual({ patch: third, before: second, name: null });
  });

  it('goes along with a page that is left only while it is small', async () => {
    const before = await louder();
    const small = { patch: { ...before, name: 'After' }, before, name: null };
    const large = { patch: { ...before, name: 'x'.repeat(60_000) }, before, name: null };
    expect(senders.patch.fitsKeepalive(unsentOf('patch', small))).toBe(true);
    expect(senders.patch.fitsKeepalive(unsentOf('patch', large))).toBe(false);
  });
});

describe('A cut', () => {
  const fields = { name: 'Bass', role: 'long note' as const, fromSeconds: 1, toSeconds: 2 };

  it('that is new is made, and changed after if another request had made it', async () => {
    const { id: _, ...own } = cut(ID, fields);
    addCut.mockResolvedValue(cut(ID, { ...fields, revision: 1 }));
    expect(await send(unsentOf('cut', { isNew: true, fields }, null))).toMatchObject({ base: 1 });
    expect(changeCut).not.toHaveBeenCalled();

    addCut.mockResolvedValue(cut(ID, { ...own, name: 'As it was', revision: 3 }));
    changeCut.mockResolvedValue(cut(ID, { ...fields, revision: 4 }));
    expect(await send(unsentOf('cut', { isNew: true, fields }, null))).toMatchObject({ base: 4 });
    expect(changeCut).toHaveBeenCalledWith(ID, { ...fields, saveId: 'save-1', revision: 3 }, { keepalive: false });
  });

  it('of the server is changed from the state that was seen', async () => {
    changeCut.mockResolvedValue(cut(ID, { revision: 5 }));
    await send(unsentOf('cut', { isNew: false, fields: { name: 'Lead' } }), true);
    expect(changeCut).toHaveBeenCalledWith(ID, { name: 'Lead', saveId: 'save-1', revision: 4 }, { keepalive: true });
  });

  it('joins its changes, the later over the earlier', () => {
    const earlier = unsentOf('cut', { isNew: true, fields: { name: 'Bass', fromSeconds: 1 } });
    const later = unsentOf('cut', { isNew: false, fields: { name: 'Lead' } });
    expect(senders.cut.join(earlier, later)).toEqual({ isNew: true, fields: { name: 'Lead', fromSeconds: 1 } });
  });
});

it('a study is changed from the state that was seen', async () => {
  const changeStudy = jest.spyOn(client, 'changeStudy').mockResolvedValue({ ...study('a'), revision: 7 });
  expect(await send(unsentOf('study', { title: 'Tide' }))).toMatchObject({ base: 7 });
  expect(changeStudy).toHaveBeenCalledWith(ID, { title: 'Tide', saveId: 'save-1', revision: 4 }, { keepalive: false });
});

it('a conflict tells the present state, which may be that there is no patch', () => {
  const conflict = (current: unknown) => new RequestError('changed', 409, 'conflict', current);
  const row: Cut = cut(ID, { revision: 9, saveId: 'other' });
  expect(senders.cut.current(conflict(row))).toEqual({ base: 9, saveId: 'other', document: row });
  expect(senders.patch.current(conflict(null))).toEqual({ base: null, saveId: null, document: null });
  expect(() => senders.patch.current(conflict({ number: 'nine' }))).toThrow();
});
