import { spawn } from 'node:child_process';
import { availableParallelism } from 'node:os';

/**
 * Runs Node scripts, as many at a time as there are cores, and gives their exit codes and outputs in the
 * order of `tasks`.
 *
 * @param {{ words: string[] }[]} tasks words of each command line after `node`
 */
export async function runAll(tasks, cwd) {
  const results = new Array(tasks.length);
  let next = 0;
  const work = async () => {
    while (next < tasks.length) {
      const i = next++;
      results[i] = await run(tasks[i].words, cwd);
    }
  };
  await Promise.all(Array.from({ length: availableParallelism() }, work));
  return results;
}

function run(words, cwd) {
  const started = Date.now();
  return new Promise((resolve) => {
    const child = spawn(process.execPath, words, { cwd });
    let output = '';
    child.stdout.on('data', (text) => (output += text));
    child.stderr.on('data', (text) => (output += text));
    child.on('close', (status) => resolve({ status, output, seconds: (Date.now() - started) / 1000 }));
  });
}
