/** Reads a long cut and a long file and sends how long each took and how much memory the process had at most. */
import { toMono } from '@imprint/core/reading/audio';
import { exposedSteps } from '@imprint/core/reading/exposedMoments';
import { onsetsOf, strengthSteps } from '@imprint/core/reading/onsets';
import { pieceSteps } from '@imprint/core/reading/piece';
import { readTone } from '@imprint/core/reading/read';
import { sectionSteps } from '@imprint/core/reading/sections';
import { finish } from '@imprint/core/reading/steps';
import { times, voices } from '../packages/core/test/effects';
import { renderPiece } from '../packages/core/test/pieces';
import { held } from './reading/figure';

const RATE_HZ = 44100;
const CUT_SECONDS = 30;
const FILE_SECONDS = 300;
const minor = [0, 2, 3, 5, 7, 8, 10];

export interface ReadingTimes {
  noteSeconds: number;
  phraseSeconds: number;
  fileSeconds: number;
  peakMegabytes: number;
}

const piece = (seconds: number) =>
  renderPiece({ bpm: 112, tonic: 2, scale: minor, seed: 3, seconds, sampleRateHz: RATE_HZ });
const stereo = (samples: ArrayLike<number>) => {
  const channel = Float32Array.from(samples);
  return { channels: [channel, channel.slice()], sampleRateHz: RATE_HZ };
};

function seconds(work: () => unknown): number {
  const started = performance.now();
  work();
  return (performance.now() - started) / 1000;
}

// What is known of the whole piece is not worked out again for a cut.
const context = { piece: { tempo: { bpm: 112, confidence: 1 }, key: { tonic: 'D', mode: 'minor', confidence: 1 } } };
const note = stereo(
  times(voices({ f0Hz: 110, seconds: CUT_SECONDS, cents: [-6, 0, 7] }), held({ attack: 0.4, off: 27, release: 1 })),
);
const phrase = stereo(piece(CUT_SECONDS));
const noteSeconds = seconds(() => readTone(note, undefined, context));
const phraseSeconds = seconds(() => readTone(phrase, undefined, context));

const file = stereo(piece(FILE_SECONDS));
const fileSeconds = seconds(() => {
  const mono = toMono(file);
  const strength = finish(strengthSteps(mono, RATE_HZ));
  const onsets = onsetsOf(strength, mono, RATE_HZ);
  finish(pieceSteps(strength, mono, RATE_HZ));
  finish(exposedSteps(mono, RATE_HZ, onsets));
  finish(sectionSteps(mono, RATE_HZ));
});
process.send!({ noteSeconds, phraseSeconds, fileSeconds, peakMegabytes: process.resourceUsage().maxRSS / 1024 });
