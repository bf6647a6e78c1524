import { z } from 'zod';
import {
  type CutFields,
  type NewCut,
  type KeptReading,
  type NewProof,
  type NewShelvedChain,
  type changedStudySchema,
  cutSchema,
  errorSchema,
  keptPatchSchema,
  keptProofSchema,
  keptReadingSchema,
  openedStudySchema,
  proofSchema,
  revisionSchema,
  shelvedChainSchema,
  studySchema,
  uploadedSchema,
} from '@imprint/contract/api';
import type { Patch } from '@imprint/core/patch/schema';
import type { Overview } from '@imprint/core/reading/overview';

/** What the server said when it did not do what was asked. */
export class RequestError extends Error {
  constructor(
    message: string,
    readonly status: number,
  ) {
    super(message);
  }
}

async function request(path: string, options: RequestInit = {}): Promise<Response> {
  const response = await fetch(`/api${path}`, options).catch(() => {
    throw new RequestError('The server does not answer. Is Imprint still running?', 0);
  });
  if (response.ok) return response;
  const body = errorSchema.safeParse(await response.json().catch(() => null));
  throw new RequestError(
    body.success ? body.data.error.message : `The server answered ${response.status}.`,
    response.status,
  );
}

async function get<T>(path: string, schema: z.ZodType<T>): Promise<T> {
  return schema.parse(await (await request(path)).json());
}

async function send<T>(method: string, path: string, body: unknown, schema: z.ZodType<T>): Promise<T> {
  const response = await request(path, {
    method,
    headers: { 'Content-Type': 'application/json' },
    body: JSON.stringify(body),
  });
  return schema.parse(response.status === 204 ? undefined : await response.json());
}

const nothing = z.undefined();

export const client = {
  studies: () => get('/studies', z.array(studySchema)),
  study: (id: string) => get(`/studies/${id}`, openedStudySchema),
  changeStudy: (id: string, changes: z.input<typeof changedStudySchema>) =>
    send('PATCH', `/studies/${id}`, changes, studySchema),
  deleteStudy: (id: string) => send('DELETE', `/studies/${id}`, {}, nothing),

  async upload(file: File, again: boolean) {
    const form = new FormData();
    form.append('file', file);
    const response = await request(`/studies${again ? '?again' : ''}`, { method: 'POST', body: form });
    return uploadedSchema.parse(await response.json());
  },

  referenceUrl: (id: string) => `/api/references/${id}/audio`,

  keepOverview: (referenceId: string, overview: Overview) =>
    send('PUT', `/references/${referenceId}/overview`, overview, nothing),

  addCut: (studyId: string, cut: NewCut) => send('POST', `/studies/${studyId}/cuts`, cut, cutSchema),
  changeCut: (id: string, changes: Partial<CutFields>) => send('PATCH', `/cuts/${id}`, changes, cutSchema),
  deleteCut: (id: string) => send('DELETE', `/cuts/${id}`, {}, nothing),
  reading: (cutId: string) => get(`/cuts/${cutId}/reading`, keptReadingSchema.nullable()),
  keepReading: (cutId: string, kept: KeptReading) => send('PUT', `/cuts/${cutId}/reading`, kept, nothing),

  keepPatch: (studyId: string, patch: Patch, name: string | null = null) =>
    send('PUT', `/studies/${studyId}/patch`, { patch, name }, revisionSchema),
  revisions: (studyId: string) => get(`/studies/${studyId}/revisions`, z.array(revisionSchema)),
  revision: (id: string) => get(`/revisions/${id}`, keptPatchSchema),

  async keepProof(studyId: string, proof: NewProof, wav: Uint8Array<ArrayBuffer>) {
    const form = new FormData();
    form.append('proof', JSON.stringify(proof));
    form.append('file', new Blob([wav], { type: 'audio/wav' }), 'proof.wav');
    const response = await request(`/studies/${studyId}/proofs`, { method: 'POST', body: form });
    return proofSchema.parse(await response.json());
  },
  shelvedChains: () => get('/shelf/chains', z.array(shelvedChainSchema)),
  shelveChain: (chain: NewShelvedChain) => send('POST', '/shelf/chains', chain, shelvedChainSchema),
  deleteShelvedChain: (id: string) => send('DELETE', `/shelf/chains/${id}`, {}, nothing),

  proof: (id: string) => get(`/proofs/${id}`, keptProofSchema),
  deleteProof: (id: string) => send('DELETE', `/proofs/${id}`, {}, nothing),
};
