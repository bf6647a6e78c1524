import { decodeAudio } from '@imprint/core/formats/decode';
import { type CandidatePicture, candidatePicture } from '@imprint/core/matching/candidatePicture';
import { type Candidate, type MatchOptions, type MatchState, matchTone } from '@imprint/core/matching/match';
import type { Helper } from '@imprint/core/matching/search/helper';
import { type Audio, type IsolatedTone, durationOf, sliceAudio } from '@imprint/core/reading/audio';
import { isolatedTone } from '@imprint/core/reading/isolation/isolate';
import { type Isolation, isolates } from '@imprint/core/reading/isolation/settings';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';

interface TaskCut {
  fromSeconds: number;
  toSeconds: number;
  isolation: Isolation | null;
  /** Which masks that follow notes go by. */
  notes: ReadingNote[];
}

/** A match as it goes to a thread: everything that it needs but the sound. */
export interface MatchTask extends Pick<
  MatchOptions,
  'structure' | 'only' | 'locks' | 'budgetSeconds' | 'seed' | 'fromPatch' | 'resumed' | 'context' | 'overrules'
> {
  name: string;
  sha256: string;
  /** The first is the one that is rebuilt. */
  cuts: TaskCut[];
}

export interface MatchFound {
  reading: Reading;
  candidates: (Candidate & { picture: CandidatePicture })[];
  recommendation: string;
  isCancelled: boolean;
}

/** Larger sounds are not kept for the next match of the same reference. */
const KEPT_SAMPLES = 60_000_000;

/** What a thread for matches does. One at a time. */
export function createMatcher(helpers: readonly Helper[]) {
  let sound: { sha256: string; audio: Audio } | undefined;
  return {
    /** Does the whole of it once on a tone of its own: what runs for the first time takes twice as long. */
    async warmUp(): Promise<void> {
      await matchTone(ownTone(), { renders: WARM_RENDERS, helpers });
    },

    has: (sha256: string): boolean => sound?.sha256 === sha256,

    /** Takes the bytes of a sound file for the matches that come. */
    async load(sha256: string, bytes: Uint8Array): Promise<void> {
      sound = undefined;
      sound = { sha256, audio: await decodeAudio(bytes) };
    },

    /** @param tell hears how far it is, and ends the search by returning true */
    async match(task: MatchTask, tell: (state: MatchState) => boolean | Promise<boolean>): Promise<MatchFound> {
      if (sound?.sha256 !== task.sha256) throw new Error('The sound of this match was not loaded.');
      const [{ audio, surroundings }, ...others] = task.cuts.map((cut) => cutOut(sound!.audio, cut));
      const { channels } = sound.audio;
      if (channels.length * channels[0].length > KEPT_SAMPLES) sound = undefined;
      const { reading, notes, candidates, recommendation, isCancelled } = await matchTone(audio, {
        ...task,
        surroundings,
        others,
        helpers,
        onProgress: tell,
      });
      return {
        reading,
        candidates: candidates.map((candidate) => ({
          ...candidate,
          picture: candidatePicture(candidate.patch, notes, audio),
        })),
        recommendation,
        isCancelled,
      };
    },
  };
}

export type Matcher = ReturnType<typeof createMatcher>;

const WARM_RENDERS = 40;
const WARM_RATE_HZ = 44100;

/** A short saw that fades. */
function ownTone(): Audio {
  const channel = Float32Array.from({ length: 0.5 * WARM_RATE_HZ }, (_, i) => {
    const seconds = i / WARM_RATE_HZ;
    return 0.5 * Math.exp(-4 * seconds) * (((220 * seconds) % 1) - 0.5);
  });
  return { channels: [channel], sampleRateHz: WARM_RATE_HZ };
}

function cutOut(whole: Audio, { fromSeconds, toSeconds, isolation, notes }: TaskCut): IsolatedTone {
  const audio = sliceAudio(whole, fromSeconds, Math.min(toSeconds, durationOf(whole)));
  return isolation && isolates(isolation) ? isolatedTone(audio, isolation, notes) : { audio };
}
