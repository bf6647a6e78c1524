import { cleanup } from '@testing-library/react';
import type { Audio } from '@imprint/core/reading/audio';
import { readTone } from '@imprint/core/reading/read';
import { emptyPatch } from '@imprint/core/patch/defaults';
import type { Patch } from '@imprint/core/patch/schema';
import { harmonicTone, saw } from '../../core/test/signals';
import { endAudition } from '../src/stores/auditionStore';
import { forgetHistory, usePatchStore } from '../src/stores/patchStore';

/** An open study's patch, without history. */
export function openPatch(patch: Patch = emptyPatch()): Patch {
  cleanup();
  usePatchStore.getState().setPatch(patch);
  forgetHistory();
  endAudition();
  return patch;
}

export const currentPatch = (): Patch => usePatchStore.getState().patch!;

/** A saw of half a second at 110 Hz. */
export const soundOfSaw: Audio = {
  channels: [
    harmonicTone({
      f0Hz: 110,
      seconds: 0.7,
      amplitude: saw,
      envelope: (t) => Math.min(1, t / 0.02) * Math.exp(-3 * t),
    }),
  ],
  sampleRateHz: 44100,
};
export const readingOfSaw = readTone(soundOfSaw);
