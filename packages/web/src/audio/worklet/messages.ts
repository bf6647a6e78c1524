import type { ControlName } from '@imprint/core/engine/engine';
import { METER } from '@imprint/core/engine/effects/chain/effectChain';
import type { PhraseNote } from '@imprint/core/engine/render';
import type { PatchResources } from '@imprint/core/engine/program/resources';
import { MAX_EFFECTS } from '@imprint/core/patch/schemas/effectSchema';
import type { Patch } from '@imprint/core/patch/schema';

export type Side = 'reference' | 'patch';

/** From the page to the deck. Times in frames of the reference. */
export type DeckMessage =
  | { kind: 'reference'; channels: Float32Array[] }
  /** What is heard in place of a stretch of the reference. */
  | { kind: 'overlay'; overlay: { startFrame: number; channels: Float32Array[] } | null }
  | { kind: 'patch'; patch: Patch; resources: PatchResources }
  | { kind: 'phrase'; startFrame: number; endFrame: number; notes: PhraseNote[] }
  | { kind: 'play'; fromFrame: number }
  | { kind: 'stop' }
  | { kind: 'loop'; loop: { fromFrame: number; toFrame: number } | null }
  | { kind: 'side'; side: Side }
  | { kind: 'gains'; referenceGain: number; patchGain: number }
  | { kind: 'noteOn'; noteId: number; midi: number; velocity: number }
  | { kind: 'noteOff'; noteId: number; velocity: number }
  | { kind: 'control'; control: ControlName; value: number }
  /** The layer and the group whose chains are measured, beside that of the patch. */
  | { kind: 'watch'; layerId: string; groupId: string | null }
  | { kind: 'record'; on: boolean }
  /** The deck is no longer wanted. */
  | { kind: 'close' };

/** From the deck to the page. */
export type DeckReport =
  | { kind: 'ended' }
  | { kind: 'closed' }
  /** Nothing is heard, nor will be until the deck is told to; `received` messages had come by then. */
  | { kind: 'atRest'; received: number }
  | { kind: 'recorded'; channels: [Float32Array, Float32Array] };

/** Numbers that the deck writes into shared memory at every block, for the page to read when it draws. */
const CHAIN_METERS = METER * MAX_EFFECTS;
export const deckState = {
  positionFrame: 0,
  playing: 1,
  peakLeft: 2,
  peakRight: 3,
  /** `EffectChain.meters` of the layer and the group that are watched, and of the patch. */
  meters: { layer: 4, group: 4 + CHAIN_METERS, patch: 4 + 2 * CHAIN_METERS },
  length: 4 + 3 * CHAIN_METERS,
} as const;
