import type { CutEvidence } from '../../src/matching/evidence';
import { gatherEvidence } from '../../src/matching/evidence';
import type { Audio } from '../../src/reading/audio';
import { MADE_RATE_HZ, type Signal } from './parts';

/** A signal that was made by formula, as a sound. */
export const soundOf = (...channels: readonly Signal[]): Audio => ({
  channels: channels.map((channel) => Float32Array.from(channel)),
  sampleRateHz: MADE_RATE_HZ,
});

/** What is measured of one. */
export const evidenceOf = (...channels: readonly Signal[]): CutEvidence => gatherEvidence(soundOf(...channels));
