import { create } from 'zustand';
import type { Trial } from '@imprint/core/matching/blindTest';
import { type Audio, durationOf } from '@imprint/core/reading/audio';
import { client } from '../api/client';
import { keptOf } from './cuts';
import { heardOverlay } from './isolationStore';
import { cutOf, messageOf, useStudyStore } from './studyStore';
import { toneApi } from './threads';
import { transport, useTransport } from './transportStore';

/** What is played in a trial: A is the reference, B the patch, X one of the two. */
export type Stimulus = 'A' | 'B' | 'X';

interface BlindTestState {
  /** The test that runs or has just ended; null before one was begun. */
  test: {
    id: string;
    cutId: string;
    planned: number;
    pair: [reference: Audio, patch: Audio];
    trials: Trial[];
    /** Whether X is the patch in the trial that is answered next. Nothing on the page tells. */
    isPatch: boolean;
  } | null;
  heard: Stimulus | null;
  /** Answers that the server has not got yet, and why. */
  failure: string | null;
}

export const useBlindTest = create<BlindTestState>(() => ({ test: null, heard: null, failure: null }));

const { getState, setState } = useBlindTest;

/** Drawn from the system's own source, so that no habit of the ear can follow it. */
const drawn = () => crypto.getRandomValues(new Uint8Array(1))[0] % 2 === 1;

/** Comes after both sides, so that nothing of the track is heard when they sound once. */
const SILENCE_SECONDS = 0.5;

function withSilence({ channels, sampleRateHz }: Audio): Audio {
  const longer = channels.map((channel) => {
    const samples = new Float32Array(channel.length + Math.round(SILENCE_SECONDS * sampleRateHz));
    samples.set(channel);
    return samples;
  });
  return { channels: longer, sampleRateHz };
}

/** Ends what sounds once. */
let ending: ReturnType<typeof setTimeout> | undefined;

/** Begins a test of the present print against the cut. */
export async function startBlindTest(planned: number): Promise<void> {
  const { study, proof, revision } = useStudyStore.getState();
  const cut = cutOf(useStudyStore.getState());
  if (!study || !cut || !proof) return;
  setState({ failure: null });
  try {
    const [reference, patch] = await toneApi().blindPair(await keptOf(cut, () => {}), proof.audio);
    const pair: [Audio, Audio] = [withSilence(reference), withSilence(patch)];
    const id = crypto.randomUUID();
    const what = `“${cut.name}” against the patch${revision ? `, revision ${revision.number}` : ''}`;
    await client.startBlindTest(study.id, { id, what, planned });
    if (useStudyStore.getState().study !== study) return;
    setState({ test: { id, cutId: cut.id, planned, pair, trials: [], isPatch: drawn() }, heard: null });
  } catch (error) {
    setState({ failure: messageOf(error) });
  }
}

/**
 * Plays A, B or X from the start, round and round or once, as the transport's loop is set. All three are laid
 * over the reference, so that nothing on the page differs.
 */
export function hearStimulus(stimulus: Stimulus): void {
  const { test } = getState();
  const { deck } = useTransport.getState();
  const cut = useStudyStore.getState().cuts.find(({ id }) => id === test?.cutId);
  if (!test || !deck || !cut) return;
  const [reference, patch] = test.pair;
  const isPatch = stimulus === 'B' || (stimulus === 'X' && test.isPatch);
  deck.setOverlay(cut.fromSeconds, isPatch ? patch : reference);
  transport.setSide('reference');
  transport.play(cut.fromSeconds);
  setState({ heard: stimulus });
  clearTimeout(ending);
  ending = setTimeout(
    () => !useTransport.getState().looping && transport.stop(),
    1000 * (durationOf(reference) - SILENCE_SECONDS / 2),
  );
}

/** Takes down an answer, on the server at once, and draws the next X. */
export async function answerTrial(saidPatch: boolean): Promise<void> {
  const { test, heard } = getState();
  if (!test || isOver(test) || heard === null) return;
  const next = { ...test, trials: [...test.trials, { isPatch: test.isPatch, saidPatch }], isPatch: drawn() };
  setState({ test: next, heard: null });
  clearTimeout(ending);
  transport.stop();
  if (isOver(next)) silence();
  await keepAnswers();
}

/**
 * Sends all answers of the test so far: none waits for another, and the page may be left at once. What the
 * server did not get comes with the next answer, or when it is asked for.
 */
export async function keepAnswers(): Promise<void> {
  const { test } = getState();
  if (!test) return;
  const failure = await client.keepTrials(test.id, test.trials).then(
    () => null,
    (error) => `Not all answers are kept yet: ${messageOf(error)}`,
  );
  // Only what was sent last tells: it had all the others in it.
  if (getState().test?.trials === test.trials) setState({ failure });
}

export const isOver = ({ trials, planned }: NonNullable<BlindTestState['test']>) => trials.length >= planned;

/** Ends a test; what was answered stays in the history. */
export function leaveBlindTest(): void {
  if (!getState().test) return;
  silence();
  setState({ test: null, heard: null });
}

/** Lets the cut be heard again as it was before. */
function silence(): void {
  clearTimeout(ending);
  transport.stop();
  const overlay = heardOverlay(cutOf(useStudyStore.getState()));
  useTransport.getState().deck?.setOverlay(overlay?.startSeconds ?? 0, overlay?.audio ?? null);
}
