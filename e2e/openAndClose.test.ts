import { readFileSync } from 'node:fs';
import { writeWav } from '@imprint/core/formats/wav';
import { type Bench, openStudy, pause, startBench } from './support';
import { thorough } from '../packages/core/test/thorough';

let bench: Bench;

beforeAll(async () => {
  bench = await startBench();
});
afterAll(() => bench.close());

thorough.it('opening and closing a study again and again leaves nothing behind', async () => {
  const rate = 44100;
  const channel = Float32Array.from({ length: 40 * rate }, (_, i) => 0.3 * Math.sin(0.02 * i + 3 * Math.sin(1e-5 * i)));
  const bytes = writeWav({ channels: [channel, channel], sampleRateHz: rate }, 'int16');
  const form = new FormData();
  form.append('file', new Blob([bytes as Uint8Array<ArrayBuffer>]), 'Forty seconds.wav');
  await fetch(`${bench.server.url}/api/studies`, { method: 'POST', body: form });
  const own = await bench.open();
  const debug = await own.context().newCDPSession(own);
  await debug.send('Performance.enable');
  /** What the page holds once the sound of the last study has closed, which takes a moment. */
  const settledCounts = async () => {
    for (let [before, same] = [-1, 0]; ;) {
      await pause(300);
      await debug.send('HeapProfiler.collectGarbage');
      const { metrics } = await debug.send('Performance.getMetrics');
      const metric = (name: string) => metrics.find((one) => one.name === name)!.value;
      const audioNodes = metric('AudioHandlers');
      same = audioNodes === before ? same + 1 : 0;
      before = audioNodes;
      if (same === 3) return { megabytes: await pageMegabytes(), listeners: metric('JSEventListeners'), audioNodes };
    }
  };
  const CYCLES = 7;
  const counts: Awaited<ReturnType<typeof settledCounts>>[] = [];
  for (let cycle = 0; cycle < CYCLES; cycle++) {
    await openStudy(own, 'Forty seconds');
    await own.getByRole('link', { name: /all studies/ }).click();
    await own.getByText('Newest proof').waitFor();
    if (cycle !== 2 && cycle !== CYCLES - 1) continue;
    counts.push(await settledCounts());
  }
  const [third, last] = counts;
  // Memory goes back when the browser finds the time for it.
  let { megabytes } = last;
  for (let tries = 0; megabytes > 1.3 * third.megabytes && tries < 30; tries++) {
    await pause(500);
    await debug.send('HeapProfiler.collectGarbage');
    megabytes = await pageMegabytes();
  }
  expect(megabytes / third.megabytes).toBeLessThan(1.3);
  expect(last.listeners).toBeLessThanOrEqual(third.listeners);
  expect(last.audioNodes).toBeLessThanOrEqual(third.audioNodes);
  await own.context().close();
});

/** Memory of the browser's largest page, with what it shares with its threads (proc(5), Pss). */
async function pageMegabytes(): Promise<number> {
  const system = await bench.browser.newBrowserCDPSession();
  const { processInfo } = await system.send('SystemInfo.getProcessInfo');
  await system.detach();
  const megabytes = processInfo.filter(({ type }) => type === 'renderer').map(({ id }) => processMegabytes(id));
  return Math.max(...megabytes);
}

function processMegabytes(pid: number): number {
  try {
    return Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))![1]) / 1000;
  } catch {
    // It ended meanwhile.
    return 0;
  }
}
