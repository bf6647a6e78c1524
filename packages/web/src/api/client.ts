import { z } from 'zod';
import {
  type ErrorCode,
  type KeptReading,
  type NewCut,
  type NewProof,
  type NewShelvedChain,
  type TrashKind,
  broughtBackSchema,
  type changedCutSchema,
  type changedStudySchema,
  cutSchema,
  errorSchema,
  keptPatchSchema,
  keptProofSchema,
  keptReadingSchema,
  missingContentsSchema,
  type newRevisionSchema,
  openedStudySchema,
  proofSchema,
  pulseSchema,
  replacedSchema,
  type changedRevisionSchema,
  revisionSchema,
  shelvedChainSchema,
  studySchema,
  trashItemSchema,
  uploadedSchema,
} from '@imprint/contract/api';
import { type NewRun, runEventSchema, runResultSchema, runSchema } from '@imprint/contract/runs';
import { type NewBlindTest, blindTestSchema } from '@imprint/contract/blindTests';
import type { Trial } from '@imprint/core/matching/blindTest';
import type { PackedPatch } from '@imprint/core/patch/contents/packing';
import type { Overview } from '@imprint/core/reading/piece/overview';

/** What the server said when it did not do what was asked. */
export class RequestError extends Error {
  constructor(
    message: string,
    /** 0 when it did not answer. */
    readonly status: number,
    readonly code: ErrorCode | null = null,
    /** For a conflict: the present state of what was to be changed. */
    readonly current: unknown = null,
  ) {
    super(message);
  }

  /** Whether the same request may well be answered later: nothing is wrong with it. */
  get isPassing(): boolean {
    return this.status === 0 || this.status === 408 || this.status >= 500;
  }
}

async function request(path: string, options: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, options).catch(() => {
    throw new RequestError('The server does not answer. Is Imprint still running?', 0);
  });
  if (response.ok) return response;
  const body = errorSchema.safeParse(await response.json().catch(() => null));
  if (!body.success) throw new RequestError(`The server answered ${response.status}.`, response.status);
  const { message, code, current } = body.data.error;
  throw new RequestError(message, response.status, code, current);
}

/**
 * What the server answered, as the contract has it. What does not fit is told in words: the page may be older
 * than the server.
 */
function parsed<T>(schema: z.ZodType<T>, value: unknown): T {
  const result = schema.safeParse(value);
  if (result.success) return result.data;
  console.error(result.error);
  throw new RequestError('What the server answered cannot be shown by this page. Reload it, then try again.', 200);
}

async function get<T>(path: string, schema: z.ZodType<T>): Promise<T> {
  return parsed(schema, await (await request(path)).json());
}

interface SendOptions {
  /** Lets the request go on when the page is left; only for small ones. */
  keepalive?: boolean;
}

async function send<T>(
  method: string,
  path: string,
  body: unknown,
  schema: z.ZodType<T>,
  { keepalive = false }: SendOptions = {},
): Promise<T> {
  const response = await request(path, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
    keepalive,
  });
  return parsed(schema, response.status === 204 ? undefined : await response.json());
}

const nothing = z.undefined();

/** One row of a list that this page cannot show, with what is known of it. */
export interface Unshown {
  id: string;
  title: string;
}

/**
 * The rows of a list that can be shown, and what is known of the others: one bad row does not hide the rest.
 */
function sorted<T>(schema: z.ZodType<T>, rows: unknown): { shown: T[]; unshown: Unshown[] } {
  const shown: T[] = [];
  const unshown: Unshown[] = [];
  for (const row of parsed(z.array(z.unknown()), rows)) {
    const result = schema.safeParse(row);
    if (result.success) shown.push(result.data);
    else {
      const { id, title } = (row ?? {}) as Record<string, unknown>;
      unshown.push({ id: String(id ?? ''), title: String(title ?? '') });
    }
  }
  return { shown, unshown };
}

export const client = {
  health: () => get('/health', z.object({ ok: z.boolean() })),

  studies: async () => sorted(studySchema, await (await request('/studies')).json()),
  study: (id: string) => get(`/studies/${id}`, openedStudySchema),
  changeStudy: (id: string, changes: z.input<typeof changedStudySchema>, options?: SendOptions) =>
    send('PATCH', `/studies/${id}`, changes, studySchema, options),
  copyStudy: (id: string, title: string, patch: PackedPatch) =>
    send('POST', `/studies/${id}/copies`, { title, patch }, studySchema),
  deleteStudy: (id: string) => send('DELETE', `/studies/${id}`, {}, nothing),

  async upload(file: File, again: boolean) {
    const form = new FormData();
    form.append('file', file);
    const response = await request(`/studies${again ? '?again' : ''}`, { method: 'POST', body: form });
    return parsed(uploadedSchema, await response.json());
  },

  referenceUrl: (id: string) => `/api/references/${id}/audio`,

  keepOverview: (referenceId: string, overview: Overview) =>
    send('PUT', `/references/${referenceId}/overview`, overview, nothing),

  addCut: (studyId: string, cut: NewCut, options?: SendOptions) =>
    send('POST', `/studies/${studyId}/cuts`, cut, cutSchema, options),
  changeCut: (id: string, changes: z.input<typeof changedCutSchema>, options?: SendOptions) =>
    send('PATCH', `/cuts/${id}`, changes, cutSchema, options),
  deleteCut: (id: string) => send('DELETE', `/cuts/${id}`, {}, nothing),
  reading: (cutId: string) => get(`/cuts/${cutId}/reading`, keptReadingSchema.nullable()),
  keepReading: (cutId: string, kept: KeptReading) => send('PUT', `/cuts/${cutId}/reading`, kept, nothing),

  keepPatch: (studyId: string, saving: z.input<typeof newRevisionSchema>, options?: SendOptions) =>
    send('PUT', `/studies/${studyId}/patch`, saving, revisionSchema, options),
  patch: (studyId: string) => get(`/studies/${studyId}/patch`, keptPatchSchema.nullable()),
  revisions: (studyId: string) => get(`/studies/${studyId}/revisions`, z.array(revisionSchema)),
  revision: (id: string) => get(`/revisions/${id}`, keptPatchSchema),
  changeRevision: (id: string, fields: z.input<typeof changedRevisionSchema>) =>
    send('PATCH', `/revisions/${id}`, fields, revisionSchema),

  /** Of these hashes those whose bytes the server lacks. */
  missingContents: async (sha256s: string[]) =>
    (await send('POST', '/contents/missing', { sha256s }, missingContentsSchema)).missing,
  async keepContent(sha256: string, bytes: Uint8Array<ArrayBuffer>) {
    const headers = { 'Content-Type': 'application/octet-stream' };
    await request(`/contents/${sha256}`, { method: 'PUT', headers, body: bytes });
  },
  content: async (sha256: string) => new Uint8Array(await (await request(`/contents/${sha256}`)).arrayBuffer()),

  pulse: (studyId: string, windowId: string) => send('POST', `/studies/${studyId}/windows`, { windowId }, pulseSchema),
  leave: (studyId: string, windowId: string) =>
    send('DELETE', `/studies/${studyId}/windows/${windowId}`, {}, nothing, { keepalive: true }),

  trash: async () => sorted(trashItemSchema, await (await request('/trash')).json()),
  putBack: (kind: TrashKind, id: string) => send('POST', `/trash/${kind}/${id}/back`, {}, nothing),
  deleteForGood: (kind: TrashKind, id: string) => send('DELETE', `/trash/${kind}/${id}`, {}, nothing),
  emptyTrash: () => send('DELETE', '/trash', {}, nothing),

  archiveUrl: '/api/archive',
  async bringBackArchive(file: File) {
    const response = await request('/archive', {
      method: 'PUT',
      headers: { 'Content-Type': 'application/x-tar' },
      body: file,
    });
    return parsed(broughtBackSchema, await response.json());
  },
  replaced: () => get('/archive/replaced', replacedSchema),
  changeBack: () => send('POST', '/archive/replaced/back', {}, replacedSchema),

  startRun: (studyId: string, run: NewRun) => send('POST', `/studies/${studyId}/runs`, run, runSchema),
  runs: (studyId: string) => get(`/studies/${studyId}/runs`, runEventSchema),
  runEventsUrl: (studyId: string) => `/api/studies/${studyId}/runs/events`,
  run: (id: string) => get(`/runs/${id}`, runResultSchema),
  endRun: (id: string) => send('POST', `/runs/${id}/end`, {}, runSchema),
  deleteRun: (id: string) => send('DELETE', `/runs/${id}`, {}, nothing),

  blindTests: (studyId: string) => get(`/studies/${studyId}/blind-tests`, z.array(blindTestSchema)),
  startBlindTest: (studyId: string, test: NewBlindTest) =>
    send('POST', `/studies/${studyId}/blind-tests`, test, blindTestSchema),
  keepTrials: (id: string, trials: Trial[]) =>
    send('PUT', `/blind-tests/${id}/trials`, { trials }, blindTestSchema, { keepalive: true }),

  async keepProof(studyId: string, proof: NewProof, wav: Uint8Array<ArrayBuffer>) {
    const form = new FormData();
    form.append('proof', JSON.stringify(proof));
    form.append('file', new Blob([wav], { type: 'audio/wav' }), 'proof.wav');
    const response = await request(`/studies/${studyId}/proofs`, { method: 'POST', body: form });
    return parsed(proofSchema, await response.json());
  },
  shelvedChains: () => get('/shelf/chains', z.array(shelvedChainSchema)),
  shelveChain: (chain: NewShelvedChain) => send('POST', '/shelf/chains', chain, shelvedChainSchema),
  deleteShelvedChain: (id: string) => send('DELETE', `/shelf/chains/${id}`, {}, nothing),

  proof: (id: string) => get(`/proofs/${id}`, keptProofSchema),
  deleteProof: (id: string) => send('DELETE', `/proofs/${id}`, {}, nothing),
};
