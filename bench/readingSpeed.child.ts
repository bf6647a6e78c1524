/**
 * Reads long cuts and a long file and sends how long each took and how much memory the process had at most.
 */
import { toMono } from '@imprint/core/reading/audio';
import { exposedSteps } from '@imprint/core/reading/cuts/exposedMoments';
import { onsetsOf, strengthSteps } from '@imprint/core/reading/notes/onsets';
import { pieceSteps } from '@imprint/core/reading/piece/piece';
import { sectionSteps } from '@imprint/core/reading/piece/sections';
import { finish } from '@imprint/core/reading/steps';
import { type CutTimes, RATE_HZ, piece, readLongCuts, seconds, stereo } from './longCuts';

const FILE_SECONDS = 300;

export interface ReadingTimes extends CutTimes {
  fileSeconds: number;
  peakMegabytes: number;
}

const cuts = readLongCuts();
const file = stereo(piece(FILE_SECONDS));
const fileSeconds = seconds(() => {
  const mono = toMono(file);
  const strength = finish(strengthSteps(mono, RATE_HZ));
  const onsets = onsetsOf(strength, mono, RATE_HZ);
  finish(pieceSteps(strength, mono, RATE_HZ));
  finish(exposedSteps(mono, RATE_HZ, onsets));
  finish(sectionSteps(mono, RATE_HZ));
});
process.send!({ ...cuts, fileSeconds, peakMegabytes: process.resourceUsage().maxRSS / 1024 });
