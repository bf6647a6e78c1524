import { spawn } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { constants, setPriority } from 'node:os';

/**
 * Starts a program that gets the processors when nothing else wants them.
 *
 * Linux shares them out among sessions first and only then by the priority of each process (sched(7), "The
 * autogroup feature"). A browser that tests drive is a session of its own, to which a low priority outside it
 * says nothing; so the program gets a session, too, and the session the low priority.
 */
export function spawnGivingWay(program, words, options) {
  const child = spawn(program, words, { ...options, detached: true });
  const end = () => endSession(child.pid);
  process.on('exit', end);
  child.on('close', () => process.off('exit', end));
  if (child.pid === undefined) return child;
  try {
    setPriority(child.pid, constants.priority.PRIORITY_LOW);
    writeFileSync(`/proc/${child.pid}/autogroup`, String(constants.priority.PRIORITY_LOW));
  } catch {
    // It has ended already, or this system knows no such sessions; then it has its share like any other.
  }
  return child;
}

/** A signal from the keyboard does not reach another session. */
function endSession(pid) {
  try {
    process.kill(-pid);
  } catch {
    // It has ended.
  }
}
