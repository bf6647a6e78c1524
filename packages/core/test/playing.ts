import { renderPatch } from '../src/engine/render';
import type { Patch, Voice } from '../src/patch/schema';
import { plainPatch } from './patches';
import { hzAt as measuredHz } from './signals';

/** Rate at which tests of the engine render when they do not say another one. */
export const RATE = 44100;

export const note = (onsetSeconds: number, durationSeconds: number, midi: number, velocity = 100) => ({
  onsetSeconds,
  durationSeconds,
  midi,
  velocity,
});

/** Left and right of a patch that plays notes. */
export const play = (patch: Patch, notes: ReturnType<typeof note>[], seconds: number) =>
  renderPatch({ patch, notes, sampleRateHz: RATE, seconds });

/** The left side of one note that is held to the end. */
export const held = (patch: Patch, midi: number, seconds: number) => play(patch, [note(0, 99, midi)], seconds)[0];

/** Frequency around a time of what was played. */
export const hzAt = (signal: Float32Array, seconds: number, windowSeconds?: number) =>
  measuredHz(signal, RATE, seconds, windowSeconds);

/** A sine whose notes follow one another in some way. */
export function voicePatch(voice: Partial<Voice>): Patch {
  const patch = plainPatch('sine');
  Object.assign(patch.layers[0].voice, voice);
  return patch;
}
