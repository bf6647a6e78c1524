import type { CDPSession, Page } from 'playwright-core';
import { launchChromium } from '../scripts/chromium';

const MATCHES = 12;
/** Until pictures, prints and readings of a study that was opened are done. */
const SETTLING_MS = 6000;

interface TraceEvent {
  name: string;
  ph: string;
  pid: number;
  tid: number;
  /** Duration by the clock, and by the processor time of the thread, in microseconds. */
  dur?: number;
  tdur?: number;
  args?: { name?: string };
}

/**
 * Presses Enter on a cut of the running program's studies, and prints how long the quick match took and what
 * the page's own thread did in one go at most: by the clock, in which the search beside it and others on the
 * machine have their share, and by the processor time of the thread.
 */
export async function quickMatches(): Promise<void> {
  const url = process.env.IMPRINT_URL;
  if (!url) throw new Error('Start the program and give its address: IMPRINT_URL=http://localhost:4177');
  const studies = (await (await fetch(`${url}/api/studies`)).json()) as { id: string; title: string }[];
  for (let i = 0; i < MATCHES; i++) {
    const { title } = studies[i % studies.length];
    const browser = await launchChromium();
    const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
    await page.goto(url);
    await page.getByRole('link', { name: title }).first().click();
    await page.getByTestId('cut-overlay').first().waitFor();
    await page.waitForTimeout(SETTLING_MS);
    const trace = await traced(await browser.newBrowserCDPSession(), () => secondsOfQuickMatch(page));
    const longest = (of: 'dur' | 'tdur') => Math.max(...trace.tasks.map((task) => task[of] ?? 0)) / 1000;
    console.log(
      `${title.padEnd(24)} ${trace.result.toFixed(1)} s from Enter to the end; the page's longest task ` +
        `${longest('dur').toFixed(0)} ms by the clock, ${longest('tdur').toFixed(0)} ms of its own`,
    );
    await browser.close();
  }
}

async function secondsOfQuickMatch(page: Page): Promise<number> {
  await page.keyboard.press('1');
  const begun = performance.now();
  await page.keyboard.press('Enter');
  const end = page.getByRole('region', { name: 'The match' }).getByText('End it');
  await end.waitFor();
  await end.waitFor({ state: 'detached' });
  return (performance.now() - begun) / 1000;
}

/** What `act` gives, and the tasks of the page's main thread meanwhile. */
async function traced<T>(cdp: CDPSession, act: () => Promise<T>): Promise<{ result: T; tasks: TraceEvent[] }> {
  const events: TraceEvent[] = [];
  cdp.on('Tracing.dataCollected', ({ value }) => events.push(...(value as unknown as TraceEvent[])));
  await cdp.send('Tracing.start', {
    transferMode: 'ReportEvents',
    traceConfig: { includedCategories: ['toplevel', 'devtools.timeline', 'disabled-by-default-devtools.timeline'] },
  });
  const result = await act();
  const complete = new Promise<void>((resolve) => cdp.once('Tracing.tracingComplete', () => resolve()));
  await cdp.send('Tracing.end');
  await complete;
  const thread = ({ pid, tid }: TraceEvent) => `${pid}:${tid}`;
  const mains = events.filter(({ name, args }) => name === 'thread_name' && args?.name === 'CrRendererMain');
  const mainThreads = new Set(mains.map(thread));
  const tasks = events.filter(
    (event) => event.ph === 'X' && event.name.endsWith('RunTask') && mainThreads.has(thread(event)),
  );
  return { result, tasks };
}
