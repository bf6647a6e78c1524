import type { Patch } from '../patch/schema';
import { chainTailSeconds } from './effects/chain/tail';
import { createEngine } from './engine';
import { type PatchResources, prepareResources } from './program/resources';

/** A note of a phrase, in seconds from the start of the phrase. */
export interface PhraseNote {
  onsetSeconds: number;
  durationSeconds: number;
  /** Note number; fractions are fine tuning. */
  midi: number;
  velocity: number;
}

export interface RenderOptions {
  patch: Patch;
  notes: readonly PhraseNote[];
  sampleRateHz: number;
  /** Length of the result. */
  seconds: number;
  /** Same patch, phrase, seed and rate give the same samples. */
  seed?: number;
  /** Tables and samples of this patch, when they are there already. */
  resources?: PatchResources;
  /** Called with 0..1 now and then. Throwing from it ends the render. */
  onProgress?: (fraction: number) => void;
}

const CHUNK = 8192;

/** Plays a phrase through a patch and returns left and right. */
export function renderPatch(options: RenderOptions): [Float32Array, Float32Array] {
  const { patch, notes, sampleRateHz, seconds, seed, resources = prepareResources(patch), onProgress } = options;
  const engine = createEngine({ sampleRateHz, seed, isLive: false }, patch, resources);
  scheduleNotes(notes, sampleRateHz, engine.schedule);
  const frames = Math.round(seconds * sampleRateHz);
  const left = new Float32Array(frames);
  const right = new Float32Array(frames);
  // What the chains make late is made up for.
  const ahead = new Float32Array(engine.latency);
  engine.process(ahead, ahead, 0, ahead.length);
  for (let start = 0; start < frames; start += CHUNK) {
    engine.process(left, right, start, Math.min(CHUNK, frames - start));
    onProgress?.(Math.min(1, (start + CHUNK) / frames));
  }
  return [left, right];
}

/** What rings longer is cut off there. */
export const MOST_RING_SECONDS = 60;
/** Over what was loudest, where a sound has died away. */
const DIED_AWAY = 10 ** (-60 / 20);

/**
 * How long a patch may go on after its last note has ended: the longest release of its layers, and what their
 * chains, those of their groups and that of the patch hold, one after the other. At most a minute.
 */
export function ringSeconds({ layers, groups, effects, bpm }: Patch): number {
  const ofLayers = layers.map(({ amp, effects: own, groupId }) => {
    const group = groups.find(({ id }) => id === groupId);
    return amp.releaseSeconds + chainTailSeconds(own, bpm) + chainTailSeconds(group?.effects ?? [], bpm);
  });
  return Math.min(MOST_RING_SECONDS, Math.max(...ofLayers) + chainTailSeconds(effects, bpm));
}

/**
 * Plays a phrase and lets it ring out: until it has fallen to −60 dB under its loudest, a minute after its
 * last note at most.
 */
export function renderToEnd(options: Omit<RenderOptions, 'seconds'>): [Float32Array, Float32Array] {
  const { patch, notes, sampleRateHz } = options;
  const lastOff = Math.max(0, ...notes.map(({ onsetSeconds, durationSeconds }) => onsetSeconds + durationSeconds));
  const [left, right] = renderPatch({ ...options, seconds: lastOff + ringSeconds(patch) });
  let peak = 0;
  for (let i = 0; i < left.length; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
  let end = left.length;
  const held = Math.min(left.length, Math.round(lastOff * sampleRateHz));
  while (end > held && Math.max(Math.abs(left[end - 1]), Math.abs(right[end - 1])) <= DIED_AWAY * peak) end--;
  return [left.slice(0, end), right.slice(0, end)];
}

/** Schedules the on and off of every note, `startFrame` being the frame of the phrase's start. */
export function scheduleNotes(
  notes: readonly PhraseNote[],
  sampleRateHz: number,
  schedule: ReturnType<typeof createEngine>['schedule'],
  startFrame = 0,
  firstNoteId = 0,
): void {
  notes.forEach(({ onsetSeconds, durationSeconds, midi, velocity }, index) => {
    const noteId = firstNoteId + index;
    const on = startFrame + Math.round(onsetSeconds * sampleRateHz);
    const off = startFrame + Math.round((onsetSeconds + durationSeconds) * sampleRateHz);
    schedule({ kind: 'noteOn', frame: on, noteId, midi, velocity });
    schedule({ kind: 'noteOff', frame: off, noteId });
  });
}
