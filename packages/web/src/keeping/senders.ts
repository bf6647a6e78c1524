import jsonPatch from 'fast-json-patch';
import {
  type Cut,
  type PatchChanges,
  type Revision,
  type Study,
  newCutSchema,
  revisionSchema,
} from '@imprint/contract/api';
import { type RequestError, client } from '../api/client';
import { allOnServer, sendContents } from './contents';
import type { Confirmed, Sender } from './outbox';
import type { Unsent, UnsentKind } from './unsent';

/** Browsers let 64 kB go with a page that is left, all requests together. */
const KEEPALIVE_BYTES = 50_000;

type OfKind<K extends UnsentKind> = Extract<Unsent, { kind: K }>;

/** A sender whose functions know their kind. */
function senderOf<K extends UnsentKind>(sender: {
  join(earlier: OfKind<K>['body'], later: OfKind<K>['body']): OfKind<K>['body'];
  send(unsent: OfKind<K>, options: { keepalive: boolean }): Promise<Confirmed>;
  current(error: RequestError): Confirmed;
  rebase(body: OfKind<K>['body'], sent: OfKind<K>['body']): OfKind<K>['body'];
  fitsKeepalive(unsent: OfKind<K>): boolean;
}): Sender {
  return {
    join: (earlier, later) => sender.join(earlier.body as OfKind<K>['body'], later.body as OfKind<K>['body']),
    send: (unsent, options) => sender.send(unsent as OfKind<K>, options),
    current: sender.current,
    rebase: (unsent, sent) => sender.rebase(unsent.body as OfKind<K>['body'], sent.body as OfKind<K>['body']),
    fitsKeepalive: (unsent) => sender.fitsKeepalive(unsent as OfKind<K>),
  };
}

const confirmedRevision = (revision: Revision): Confirmed => ({
  base: revision.number,
  saveId: revision.saveId,
  document: revision,
});

const confirmedRow = (row: Pick<Cut | Study, 'revision' | 'saveId'>): Confirmed => ({
  base: row.revision,
  saveId: row.saveId,
  document: row,
});

const currentRow = ({ current }: RequestError): Confirmed => confirmedRow(current as Cut | Study);

/** The body of a saving: what changed where that is known and shorter, else all of it. */
function savingOf({ base, saveId, body }: OfKind<'patch'>) {
  const { patch, before, name } = body;
  const saving = { saveId, base, name };
  if (before === null || base === null) return { ...saving, patch };
  const changes = jsonPatch.compare(before, patch) as PatchChanges;
  return JSON.stringify(changes).length < JSON.stringify(patch).length ? { ...saving, changes } : { ...saving, patch };
}

const patchSender = senderOf<'patch'>({
  join: (earlier, later) => ({ ...later, before: earlier.before, name: later.name ?? earlier.name }),
  async send(unsent, { keepalive }) {
    if (!keepalive) await sendContents(unsent.body.patch);
    return confirmedRevision(await client.keepPatch(unsent.studyId, savingOf(unsent), { keepalive }));
  },
  current({ current }) {
    const revision = revisionSchema.nullable().parse(current);
    return revision ? confirmedRevision(revision) : { base: null, saveId: null, document: null };
  },
  // A name was of the state that was sent.
  rebase: (body, sent) => ({ ...body, before: sent.patch, name: body.name === sent.name ? null : body.name }),
  fitsKeepalive: (unsent) =>
    allOnServer(unsent.body.patch) && JSON.stringify(savingOf(unsent)).length < KEEPALIVE_BYTES,
});

const cutSender = senderOf<'cut'>({
  join: (earlier, later) => ({ isNew: earlier.isNew, fields: { ...earlier.fields, ...later.fields } }),
  async send({ id, studyId, base, saveId, body: { isNew, fields } }, options) {
    const change = (revision: number | null) =>
      client.changeCut(id, { ...fields, saveId, ...(revision !== null && { revision }) }, options);
    if (!isNew) return confirmedRow(await change(base));
    const made = await client.addCut(studyId, newCutSchema.parse({ ...fields, id }), options);
    // One that was made by an earlier request, whose answer was lost, is as it was then.
    const asSent = jsonPatch.compare({ ...made, ...fields }, made).length === 0;
    return confirmedRow(asSent ? made : await change(made.revision));
  },
  current: currentRow,
  rebase: ({ fields }) => ({ isNew: false, fields }),
  fitsKeepalive: (unsent) => JSON.stringify(unsent.body).length < KEEPALIVE_BYTES,
});

const studySender = senderOf<'study'>({
  join: (earlier, later) => ({ ...earlier, ...later }),
  async send({ id, base, saveId, body }, options) {
    return confirmedRow(
      await client.changeStudy(id, { ...body, saveId, ...(base !== null && { revision: base }) }, options),
    );
  },
  current: currentRow,
  rebase: (body) => body,
  fitsKeepalive: () => true,
});

const readingSender = senderOf<'reading'>({
  join: (_earlier, later) => later,
  async send({ id, body }) {
    await client.keepReading(id, body);
    return { base: null, saveId: null, document: null };
  },
  current: () => ({ base: null, saveId: null, document: null }),
  rebase: (body) => body,
  fitsKeepalive: () => false,
});

export const senders: Record<UnsentKind, Sender> = {
  patch: patchSender,
  cut: cutSender,
  study: studySender,
  reading: readingSender,
};
