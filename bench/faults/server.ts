import { type ChildProcess, spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('../..', import.meta.url));

export const pause = (milliseconds: number) => new Promise<void>((resolve) => setTimeout(resolve, milliseconds));

export interface Running {
  child: ChildProcess;
  url: string;
  said: () => string;
}

/**
 * `npm start` on a data folder of its own; resolves when it says where to look, or has ended (then `url` is
 * empty).
 */
export async function startImprint(data: string, port: number): Promise<Running> {
  const environment: NodeJS.ProcessEnv = { ...process.env, IMPRINT_DATA: data, PORT: String(port) };
  delete environment.DATABASE_URL;
  const child = spawn(process.execPath, [`${root}scripts/start.mjs`], { cwd: '/', env: environment });
  let said = '';
  child.stdout.on('data', (part: Buffer) => (said += part.toString()));
  child.stderr.on('data', (part: Buffer) => (said += part.toString()));
  for (let waited = 0; waited < 60_000; waited += 20) {
    if (said.includes('Ctrl-C') || child.exitCode !== null || child.signalCode !== null) break;
    await pause(20);
  }
  return { child, url: /http:\/\/localhost:\d+/.exec(said)?.[0] ?? '', said: () => said };
}

/** All processes below one, with those of a group of their own. */
export function childrenOf(pid: number): number[] {
  const text = readIfThere(`/proc/${pid}/task/${pid}/children`).trim();
  const direct = text === '' ? [] : text.split(/\s+/).map(Number);
  return [...direct, ...direct.flatMap(childrenOf)];
}

export function readIfThere(path: string): string {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return '';
  }
}

/** Kills one process, if there is one. Numbers below 2 mean groups of processes, or all. */
export function killNow(pid: number | undefined): void {
  if (pid === undefined || !(pid > 1)) return;
  try {
    process.kill(pid, 'SIGKILL');
  } catch {
    // It ended by itself meanwhile.
  }
}

/** Megabytes that a process has in use. */
export const megabytesOf = (pid: number) =>
  Number(/VmRSS:\s+(\d+)/.exec(readIfThere(`/proc/${pid}/status`))?.[1] ?? 0) / 1000;
