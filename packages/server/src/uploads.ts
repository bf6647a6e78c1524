import { mkdirSync, readFileSync, readdirSync, rmSync } from 'node:fs';
import { tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';

/**
 * A folder of this process for files on their way in, which only its user can enter. What others left there
 * that were killed is taken away.
 *
 * @param parent where temporary files go
 */
export function openUploadFolder(parent = tmpdir()): { path: string; close(): void } {
  const all = join(parent, `imprint-uploads-${userInfo().uid}`);
  mkdirSync(all, { recursive: true, mode: 0o700 });
  for (const name of readdirSync(all)) if (!isOfSomebody(name)) remove(join(all, name));
  const path = join(all, nameOf(process.pid));
  mkdirSync(path, { recursive: true, mode: 0o700 });
  return { path, close: () => remove(path) };
}

const nameOf = (pid: number) => `${pid}-${startOf(pid)}`;
const isOfSomebody = (name: string) => name === nameOf(Number(name.split('-')[0])) && !name.endsWith('-');
const remove = (path: string) => rmSync(path, { recursive: true, force: true });

/**
 * When a process started, in ticks since the machine did (proc(5)): its number alone may be another's by now.
 */
function startOf(pid: number): string {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    return stat.slice(stat.lastIndexOf(')') + 2).split(' ')[19];
  } catch {
    return '';
  }
}
