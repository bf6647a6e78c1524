import { type Audio, durationOf, toMono } from '../audio';
import { type FoundKey, keySteps } from './key';
import { strengthHopSeconds, strengthLeadSeconds, strengthSteps } from '../notes/onsets';
import type { Reading } from '../schema';
import { type Steps, finish } from '../steps';
import { type Tempo, findTempo } from './tempo';

/** What is told of a whole file. */
export interface Piece {
  tempo?: Tempo;
  key?: FoundKey;
}

export type PieceTraits = Pick<Reading, 'tempo' | 'key'>;

/** Tempo and key of a piece, in steps of a few milliseconds but for one at the start. */
export function* pieceSteps(strength: Float64Array, mono: ArrayLike<number>, sampleRateHz: number): Steps<Piece> {
  const tempo = findTempo(strength, strengthHopSeconds(sampleRateHz), strengthLeadSeconds(sampleRateHz));
  return { tempo, key: yield* keySteps(mono, sampleRateHz) };
}

/** A piece as it stands in readings. */
export function pieceTraits({ tempo, key }: Piece): PieceTraits {
  const [best] = key?.candidates ?? [];
  return {
    tempo: tempo
      ? { bpm: Number(tempo.bpm.toPrecision(6)), confidence: tempo.confidence }
      : { bpm: null, confidence: 0 },
    key: best
      ? { tonic: best.tonic, mode: best.mode, confidence: key!.confidence }
      : { tonic: null, mode: null, confidence: 0 },
  };
}

/** A single note has neither tempo nor key; a stretch of this length may. */
const MIN_PIECE_SECONDS = 6;

/** Tempo and key of a stretch. */
export function readPiece(audio: Audio): PieceTraits {
  if (durationOf(audio) < MIN_PIECE_SECONDS) return pieceTraits({ tempo: undefined, key: undefined });
  const mono = toMono(audio);
  const strength = finish(strengthSteps(mono, audio.sampleRateHz));
  return pieceTraits(finish(pieceSteps(strength, mono, audio.sampleRateHz)));
}
