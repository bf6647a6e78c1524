import { type FoundKey, keySteps } from './key';
import { strengthHopSeconds, strengthLeadSeconds } from './onsets';
import type { Steps } from './steps';
import { type Tempo, findTempo } from './tempo';

/** What is told of a whole file. */
export interface Piece {
  tempo: Tempo | undefined;
  key: FoundKey | undefined;
}

/** Tempo and key of a piece, in steps of a few milliseconds but for one at the start. */
export function* pieceSteps(strength: Float64Array, mono: ArrayLike<number>, sampleRateHz: number): Steps<Piece> {
  const tempo = findTempo(strength, strengthHopSeconds(sampleRateHz), strengthLeadSeconds(sampleRateHz));
  return { tempo, key: yield* keySteps(mono, sampleRateHz) };
}
