import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { files } from './files';
import { kills } from './kills';
import { imports } from './memory';
import { races } from './races';
import { requests } from './requests';
import { childrenOf, killNow, megabytesOf, pause, readIfThere, startImprint } from './server';

const PORT = 46380;

/**
 * What must never happen, tried many times, on loopback and on data folders of its own: `npm run bench
 * faults`. `share` makes it shorter: 0.1 is a tenth of everything.
 */
export async function faults(share = Number(process.env.FAULTS_SHARE ?? 1)): Promise<void> {
  const count = (whole: number) => Math.max(2, Math.round(whole * share));
  const held: boolean[] = [await files(count(1000))];
  const folder = mkdtempSync(join(tmpdir(), 'imprint-faults-'));
  const running = await startImprint(join(folder, 'data'), PORT);
  if (!running.url) throw new Error(running.said());
  held.push(await requests(running.url, count(5000)), await races(running.url, count(50)));
  held.push(await imports(running.url, running.child.pid!, count(500)));
  const megabytes = childrenOf(running.child.pid!).map(megabytesOf);
  held.push(megabytes.every((one) => one < 1000));
  console.log(`memory after all that: ${Math.max(...megabytes).toFixed(0)} MB in the largest process`);
  running.child.kill('SIGINT');
  await new Promise((resolve) => running.child.once('exit', resolve));
  for (const pid of childrenOf(running.child.pid!)) killNow(pid);
  const elsewhere = /is in (\S+)/.exec(readIfThere(join(folder, 'data/postgres/WHERE.txt')))?.[1];
  await pause(300);
  for (const path of [folder, elsewhere]) if (path) rmSync(path, { recursive: true, force: true });
  held.push(await kills(count(200)));
  console.log(held.every(Boolean) ? 'faults: all holds' : 'faults: NOT all holds');
}
