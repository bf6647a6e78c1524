import { readTone } from '@imprint/core/reading/read';
import { times, voices } from '../packages/core/test/effects';
import { renderPiece } from '../packages/core/test/pieces';
import { held } from './reading/figure';

export const RATE_HZ = 44100;
const CUT_SECONDS = 30;
const minor = [0, 2, 3, 5, 7, 8, 10];

export interface CutTimes {
  noteSeconds: number;
  phraseSeconds: number;
}

/** A piece with chords, a bass and drums. */
export const piece = (seconds: number) =>
  renderPiece({ bpm: 112, tonic: 2, scale: minor, seed: 3, seconds, sampleRateHz: RATE_HZ });

/** The same in both channels. */
export const stereo = (samples: ArrayLike<number>) => {
  const channel = Float32Array.from(samples);
  return { channels: [channel, channel.slice()], sampleRateHz: RATE_HZ };
};

/** Seconds that something takes. */
export function seconds(work: () => unknown): number {
  const started = performance.now();
  work();
  return (performance.now() - started) / 1000;
}

/** How long it takes to read one note of 30 s, and a phrase of 30 s. */
export function readLongCuts(): CutTimes {
  // What is known of the whole piece is not worked out again for a cut.
  const context = { piece: { tempo: { bpm: 112, confidence: 1 }, key: { tonic: 'D', mode: 'minor', confidence: 1 } } };
  const shape = held({ attack: 0.4, off: 27, release: 1 });
  const note = stereo(times(voices({ f0Hz: 110, seconds: CUT_SECONDS, cents: [-6, 0, 7] }), shape));
  const phrase = stereo(piece(CUT_SECONDS));
  return {
    noteSeconds: seconds(() => readTone(note, undefined, context)),
    phraseSeconds: seconds(() => readTone(phrase, undefined, context)),
  };
}
