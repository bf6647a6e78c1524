import { type ChildProcess, fork } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import pLimit from 'p-limit';
import type { SoundInfo } from '@imprint/core/formats/decode';
import { InputError } from '@imprint/core/patch/inputError';
import type { Inspection } from './inspectProcess';

const LIMITS = { seconds: 60, megabytes: 768 };
type Limits = typeof LIMITS;
const LOOKS_EVERY_MS = 50;

/** More at once would not be done earlier: there are two cores. */
const inTurn = pLimit(2);

/**
 * Decodes a file to its end, in a process of its own with a limit of time and memory: a file made to break a
 * decoder must not take the server with it. At most two at once; others wait. Throws an InputError that says
 * why a file cannot be a reference.
 */
export const inspectSound = (path: string, limits: Limits = LIMITS): Promise<SoundInfo> =>
  inTurn(() => inspect(path, limits));

async function inspect(path: string, limits: Limits): Promise<SoundInfo> {
  const child = fork(fileURLToPath(new URL('inspect.process.mjs', import.meta.url)), {
    execArgv: ['--max-old-space-size=512'],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
  });
  try {
    const inspection = await answerOf(child, path, limits);
    if (!inspection.ok) throw new InputError(inspection.message);
    return inspection.info;
  } finally {
    child.kill('SIGKILL');
  }
}

function answerOf(child: ChildProcess, path: string, limits: Limits): Promise<Inspection> {
  return new Promise((resolve, reject) => {
    const started = Date.now();
    const watch = setInterval(() => {
      const megabytes = residentMegabytes(child.pid!);
      if (megabytes > limits.megabytes)
        refuse(`it takes more than ${limits.megabytes} MB of memory to read, which no sound of 15 minutes does`);
      else if (Date.now() - started > 1000 * limits.seconds)
        refuse(`it takes more than ${limits.seconds} s to read, which no sound of 15 minutes does`);
    }, LOOKS_EVERY_MS);
    const refuse = (why: string) => {
      clearInterval(watch);
      reject(new InputError(`This file was not read to its end: ${why}. Export it again, as WAV or FLAC.`));
    };
    child.once('message', (answer) => {
      clearInterval(watch);
      resolve(answer as Inspection);
    });
    child.once('error', (error) => {
      clearInterval(watch);
      reject(error);
    });
    // "close" comes after everything that the process sent was read, unlike "exit".
    child.once('close', () => refuse('it is damaged in a way that stops its decoder'));
    child.send(path, (error) => error && refuse('its reader could not be started'));
  });
}

const PAGE_BYTES = 4096;

/** Memory that a process has in use, not what it has only reserved (proc(5), statm). */
function residentMegabytes(pid: number): number {
  try {
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * PAGE_BYTES) / 1e6;
  } catch {
    return 0;
  }
}
