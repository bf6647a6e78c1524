import { evaluateInChromium } from './evaluateInChromium';

const SECONDS = 10;
const ROUNDS = 7;

/**
 * Median rounds of one graph, in seconds of work per second of sound, and the median of the rounds' ratios.
 */
interface RenderSpeed {
  name: string;
  ours: number;
  native: number;
  ratio: number;
}

/**
 * The graphs of a page by our code and by Chromium's own nodes in an OfflineAudioContext, in the same
 * browser, in turn.
 */
async function renderAgainstBrowser(file: string, render: string): Promise<RenderSpeed[]> {
  const results = await evaluateInChromium<Record<string, { ours: number; native: number }[]>>(
    file,
    `${render}(${SECONDS}, ${ROUNDS})`,
  );
  return Object.entries(results).map(([name, rounds]) => {
    const middle = (values: number[]) => values.sort((a, b) => a - b)[(values.length - 1) / 2];
    const perSecond = (key: 'ours' | 'native') => middle(rounds.map((round) => round[key])) / 1000 / SECONDS;
    // Each round times both within the same second or two, so that a busy machine slows both.
    const ratio = middle(rounds.map((round) => round.ours / round.native));
    return { name, ours: perSecond('ours'), native: perSecond('native'), ratio };
  });
}

export async function printAgainstBrowser(file: string, render: string): Promise<void> {
  for (const { name, ours, native, ratio } of await renderAgainstBrowser(file, render)) {
    console.log(
      `${name}, seconds of work per second of sound: ours ${ours.toFixed(4)}, Chromium's nodes ${native.toFixed(4)}, ratio ${ratio.toFixed(2)}`,
    );
  }
}
