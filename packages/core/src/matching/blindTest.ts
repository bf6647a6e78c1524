import { gainFromDecibels } from '../dsp/decibels';
import { integratedLoudness } from '../dsp/loudness';
import { type Audio, inChannels } from '../reading/audio';

/** Numbers of trials to choose from. With fewer than 8 hardly anything can be told. */
export const TRIAL_COUNTS = [8, 12, 16, 24] as const;

/** One answer of an ABX test. */
export interface Trial {
  /** Whether X was the patch. */
  isPatch: boolean;
  /** Whether X was said to be the patch. */
  saidPatch: boolean;
}

/** What a test says. */
export interface Verdict {
  correct: number;
  /** Chance of as many right answers or more by guessing alone. */
  p: number;
  words: string;
}

/** What is taken for more than chance, as is usual. */
const SIGNIFICANT = 0.05;
const SURE = 0.01;
const FADE_SECONDS = 0.005;

/**
 * Reference and patch as a blind test plays them: as loud as one another (ITU-R BS.1770), as long, and faded
 * alike, so that neither level, length nor a start tells them apart. The louder one is turned down.
 */
export function blindPair(reference: Audio, patch: Audio): [reference: Audio, patch: Audio] {
  // A single channel is played from both sides, and louder by that.
  const count = Math.max(reference.channels.length, patch.channels.length);
  const length = Math.min(reference.channels[0].length, patch.channels[0].length);
  const shaped = [reference, patch].map((audio) => faded(inChannels(audio, count), length));
  const loudness = shaped.map(({ channels, sampleRateHz }) => integratedLoudness(channels, sampleRateHz));
  const least = Math.min(...loudness);
  const [a, b] = shaped.map((audio, i): Audio => {
    const gain = Number.isFinite(least) ? gainFromDecibels(least - loudness[i]) : 1;
    return { ...audio, channels: audio.channels.map((channel) => channel.map((x) => gain * x)) };
  });
  return [a, b];
}

function faded({ channels, sampleRateHz }: Audio, length: number): Audio {
  const fade = FADE_SECONDS * sampleRateHz;
  const gainAt = (n: number) => Math.min(1, n / fade, (length - 1 - n) / fade);
  return {
    sampleRateHz,
    channels: channels.map((channel) => channel.subarray(0, length).map((x, n) => gainAt(n) * x)),
  };
}

/** Chance of `correct` right answers or more by guessing: the upper tail of the binomial. */
export function chanceOf(correct: number, trials: number): number {
  let ways = 1;
  let sum = 0;
  for (let k = trials; k >= correct; k--) {
    sum += ways;
    ways = (ways * k) / (trials - k + 1);
  }
  return sum / 2 ** trials;
}

/** What the answers of a test say, in words too. */
export function verdictOf(trials: readonly Trial[]): Verdict {
  const correct = trials.filter(({ isPatch, saidPatch }) => isPatch === saidPatch).length;
  const p = chanceOf(correct, trials.length);
  return { correct, p, words: wordsFor(p) };
}

function wordsFor(p: number): string {
  const odds = `guessing alone does as well in ${percent(p)} of such tests`;
  if (p <= SURE) return `You can tell them apart: ${odds}.`;
  if (p <= SIGNIFICANT) return `You can probably tell them apart: ${odds}.`;
  return `Nothing says that you can tell them apart: ${odds}.`;
}

const percent = (p: number) => (p < 0.001 ? 'fewer than one in a thousand' : `${Number((100 * p).toPrecision(2))} %`);
