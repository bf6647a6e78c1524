import { evaluateInChromium } from './evaluateInChromium';

const SECONDS = 10;
const ROUNDS = 7;

/** Median rounds of one graph, in seconds of work per second of sound, and the median of the rounds' ratios. */
export interface RenderSpeed {
  name: string;
  ours: number;
  native: number;
  ratio: number;
}

/** The graphs of renderGraphs.page.ts by our engine and by Chromium's own nodes in an OfflineAudioContext, in the same browser, in turn. */
export async function renderAgainstBrowser(): Promise<RenderSpeed[]> {
  const results = await evaluateInChromium<Record<string, { ours: number; native: number }[]>>(
    'renderGraphs.page.ts',
    `renderGraphs(${SECONDS}, ${ROUNDS})`,
  );
  return Object.entries(results).map(([name, rounds]) => {
    const middle = (values: number[]) => values.sort((a, b) => a - b)[(values.length - 1) / 2];
    const perSecond = (key: 'ours' | 'native') => middle(rounds.map((round) => round[key])) / 1000 / SECONDS;
    // Each round times both within the same second or two, so that a busy machine slows both.
    const ratio = middle(rounds.map((round) => round.ours / round.native));
    return { name, ours: perSecond('ours'), native: perSecond('native'), ratio };
  });
}
