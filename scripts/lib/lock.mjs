import { linkSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';
import { makeFolder } from './folders.mjs';
import { SetupError } from './packages.mjs';
import { identityOf, isRunning } from './processes.mjs';

/**
 * Takes a file that only one process holds at a time. It names its holder, so one that was left by a kill is
 * known from one in use, and is taken over.
 *
 * @param {string} file its folder is made when missing
 * @returns {{ holder: object } | { write(fields: object): void, release(): void, left: object | null }}
 *   `holder`: what the process that has it wrote; else `write` puts something down for those who come later,
 *   and `left` is what the last holder wrote, who is gone
 */
export function takeLock(file) {
  makeFolder(dirname(file));
  const me = identityOf(process.pid);
  const own = `${file}.${process.pid}`;
  const contentOf = (fields) => JSON.stringify({ ...fields, ...me });
  const put = (fields) => writeOwn(own, contentOf(fields));
  let left = null;
  for (;;) {
    put({});
    // A link is made at once and with its content, or not at all when somebody was faster.
    const taken = attempt(() => linkSync(own, file), 'EEXIST');
    rmSync(own, { force: true });
    if (taken) {
      return {
        left,
        write(fields) {
          put(fields);
          renameSync(own, file);
        },
        release() {
          if (parsed(readText(file))?.pid === process.pid) rmSync(file, { force: true });
        },
      };
    }
    const text = readText(file);
    const holder = parsed(text);
    if (holder && isRunning(holder)) return { holder };
    if (!takeAway(file, `${own}.left`, text)) continue;
    left = holder;
    if (!holder && text !== undefined) console.error(`${file} could not be read; it is made anew.`);
  }
}

/** What the process that holds the file wrote; undefined where none does. */
export function holderOf(file) {
  const holder = parsed(readText(file));
  return holder && isRunning(holder) ? holder : undefined;
}

/** Removes a file that was left over, but not one that somebody else has put there in between. */
function takeAway(file, aside, text) {
  if (!attempt(() => renameSync(file, aside), 'ENOENT')) return false;
  const same = readText(aside) === text;
  if (!same) attempt(() => linkSync(aside, file), 'EEXIST');
  rmSync(aside, { force: true });
  return same;
}

/** Does something; false when it fails for the reason that was expected. */
function attempt(action, expected) {
  try {
    action();
    return true;
  } catch (error) {
    if (error.code === expected) return false;
    throw error;
  }
}

function writeOwn(path, content) {
  try {
    writeFileSync(path, content, { mode: 0o644 });
  } catch (error) {
    throw new SetupError(
      `Imprint keeps its data in ${dirname(path)}, which cannot be written to (${error.code}). Make it writable, or name another folder with IMPRINT_DATA=/some/folder.`,
    );
  }
}

function readText(path) {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return undefined;
  }
}

function parsed(text) {
  try {
    const value = JSON.parse(text);
    return typeof value === 'object' ? value : null;
  } catch {
    return null;
  }
}
