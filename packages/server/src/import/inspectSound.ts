import { fork } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { InputError } from '@imprint/core/patch/inputError';
import type { Inspection } from './inspectProcess';

/**
 * Decodes a file to its end, in a process of its own: a quarter of an hour at 192 kHz takes seconds and gigabytes, and a file made
 * to break a decoder must not take the server with it. Throws an InputError that says why a file cannot be a reference.
 */
export async function inspectSound(path: string): Promise<Inspection & { ok: true }> {
  const child = fork(fileURLToPath(new URL('./inspectProcess.ts', import.meta.url)), { execArgv: ['--import', 'tsx'] });
  try {
    child.send(path);
    const inspection = await Promise.race([answerOf(child), once(child, 'exit').then(() => undefined)]);
    if (!inspection) throw new InputError('This file is damaged in a way that stops its decoder.');
    if (!inspection.ok) throw new InputError(inspection.message);
    return inspection;
  } finally {
    child.kill();
  }
}

async function answerOf(child: ReturnType<typeof fork>): Promise<Inspection> {
  const [answer] = (await once(child, 'message')) as [Inspection];
  return answer;
}
