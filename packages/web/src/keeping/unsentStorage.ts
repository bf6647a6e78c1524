import { createStore, del, entries, get, set } from 'idb-keyval';
import { contentsOf } from '@imprint/core/patch/contents/packing';
import { allOnServer, bytesOf, rememberBytes } from './contents';
import type { Unsent } from './unsent';

/** Where what was not sent yet is kept, so that closing the page, or the browser, loses nothing. */
export interface UnsentStorage {
  /** What any window of this browser has left to send. */
  all(): Promise<Unsent[]>;
  put(unsent: Unsent): Promise<void>;
  remove(key: string): Promise<void>;
}

/**
 * In this browser's IndexedDB. Tables and samples that the server lacks are kept beside what refers to them.
 */
export function browserStorage(): UnsentStorage {
  const unsentStore = createStore('imprint-unsent', 'unsent');
  const contentStore = createStore('imprint-contents', 'contents');

  async function keepContents(unsent: Unsent): Promise<void> {
    if (unsent.kind !== 'patch' || allOnServer(unsent.body.patch)) return;
    for (const { sha256 } of contentsOf(unsent.body.patch)) {
      const bytes = bytesOf(sha256);
      if (bytes && !(await get(sha256, contentStore))) await set(sha256, bytes, contentStore);
    }
  }

  return {
    async all() {
      for (const [sha256, bytes] of await entries<string, Uint8Array>(contentStore)) rememberBytes(sha256, bytes);
      return (await entries<string, Unsent>(unsentStore)).map(([, unsent]) => unsent);
    },
    async put(unsent) {
      await set(unsent.key, unsent, unsentStore);
      await keepContents(unsent);
    },
    async remove(key) {
      await del(key, unsentStore);
      const left = (await entries<string, Unsent>(unsentStore)).some(([, { kind }]) => kind === 'patch');
      if (!left)
        for (const [sha256] of await entries<string, Uint8Array>(contentStore)) await del(sha256, contentStore);
    },
  };
}

/** Only as long as the page is open: where there is no IndexedDB, as in some private windows. */
export function memoryStorage(): UnsentStorage {
  const kept = new Map<string, Unsent>();
  return {
    all: async () => [...kept.values()],
    put: async (unsent) => void kept.set(unsent.key, structuredClone(unsent)),
    remove: async (key) => void kept.delete(key),
  };
}
