import { readFileSync } from 'node:fs';

/**
 * Which process a number means. Numbers are used again, so the time of its start (in ticks since the
 * machine's) and the machine's own start belong to it.
 *
 * @typedef {{ pid: number, started: string, boot: string }} ProcessIdentity
 */

/** @returns {ProcessIdentity | undefined} undefined where no such process runs */
export function identityOf(pid) {
  const started = startTicksOf(pid);
  return started === undefined ? undefined : { pid, started, boot: bootId() };
}

/** Whether the very process that was written down still runs. */
export function isRunning(identity) {
  if (!identity || !Number.isInteger(identity.pid) || identity.pid <= 1) return false;
  const now = identityOf(identity.pid);
  return now !== undefined && now.started === identity.started && now.boot === identity.boot;
}

/** The words of a process's command line; none where it is gone. */
export function commandOf(pid) {
  return textOf(`/proc/${pid}/cmdline`).split('\0').slice(0, -1);
}

function startTicksOf(pid) {
  const stat = textOf(`/proc/${pid}/stat`);
  // The name in brackets may hold blanks and brackets; what follows the last bracket are fields 3 and up
  // (proc(5)).
  const fields = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
  // A process that has ended and is not yet collected by its parent no longer counts.
  return stat === '' || fields[0] === 'Z' || fields[0] === 'X' ? undefined : fields[19];
}

const bootId = () => textOf('/proc/sys/kernel/random/boot_id').trim();

function textOf(path) {
  try {
    return readFileSync(path, 'utf8');
  } catch {
    return '';
  }
}
