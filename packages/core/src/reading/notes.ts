import { decibelsFromGain } from '../dsp/decibels';
import { centsBetween, midiFromHz } from '../dsp/pitch';
import type { Fundamental } from './fundamental';
import type { FittedContour, LevelContour } from './levelContour';
import { type PitchTrack, framesNear } from './pitchTrack';
import type { ReadingNote } from './schema';
import { median } from './statistics';

/** Pitch distance that makes another note. */
const NEW_NOTE_CENTS = 70;
const MIN_NOTE_SECONDS = 0.06;
/** Rise within the rise time that makes another onset of the same pitch. */
const RETRIGGER_DB = 9;
const RISE_SECONDS = 0.03;
/** A rise that stays this far under the loudest is more likely an echo than a note, −16 dB. */
const ECHO_RATIO = 0.16;

/**
 * Notes of one line. A cut in which one pitch prevails and the level rises once is one note, as long as the fitted
 * contour says; otherwise the pitch track is split where it jumps or the level rises again.
 */
export function findNotes(
  track: PitchTrack,
  level: LevelContour,
  fundamental: Fundamental | undefined,
  fitted: FittedContour,
): ReadingNote[] {
  if (!fundamental) return [];
  const runs = pitchRuns(track, level);
  const end = level.rms.length * level.hopSeconds;
  if (runs.length <= 1 || isOneNote(track, level, fundamental)) {
    const onset = fitted.onsetSeconds;
    const noteOff = fitted.noteOffSeconds ?? end;
    return [note(onset, noteOff, fundamental.f0Hz, fitted.fullRms)];
  }
  return runs.map(({ from, to, f0Hz, rms }) => note(from, to, f0Hz, rms));
}

/** Share of the clear frames that must have the cut's pitch for it to be one note. */
const PREVAILING = 0.75;

function isOneNote(track: PitchTrack, level: LevelContour, { f0Hz }: Fundamental): boolean {
  const loudest = level.rms.reduce((a, b) => Math.max(a, b), 0);
  const clear = track.f0Hz.filter((_, i) => isClear(track, i, loudest)).length;
  return framesNear(track, f0Hz, NEW_NOTE_CENTS).length >= PREVAILING * clear && levelRises(level, loudest).length <= 1;
}

const isClear = (track: PitchTrack, i: number, loudest: number) =>
  track.clarity[i] > 0.6 && track.rms[i] > 0.03 * loudest;

interface Run {
  from: number;
  to: number;
  f0Hz: number;
  rms: number;
}

function pitchRuns(track: PitchTrack, level: LevelContour): Run[] {
  const loudest = level.rms.reduce((a, b) => Math.max(a, b), 0);
  const onsets = levelRises(level, loudest);
  const runs: Run[] = [];
  let frames: number[] = [];
  const close = () => {
    if (frames.length > 0) {
      const from = onsets.findLast((at) => at <= track.seconds[frames[0]] + 0.02) ?? track.seconds[frames[0]];
      const to = track.seconds[frames[frames.length - 1]];
      const own = frames.map((i) => track.f0Hz[i]);
      if (to - from >= MIN_NOTE_SECONDS) {
        const rms = Math.max(...frames.map((i) => track.rms[i]));
        runs.push({ from: Math.max(from, runs[runs.length - 1]?.to ?? 0), to, f0Hz: median(own), rms });
      }
    }
    frames = [];
  };
  for (let i = 0; i < track.f0Hz.length; i++) {
    if (!isClear(track, i, loudest)) {
      close();
      continue;
    }
    const previous = frames[frames.length - 1];
    if (previous !== undefined) {
      const jump = Math.abs(centsBetween(track.f0Hz[previous], track.f0Hz[i])) > NEW_NOTE_CENTS;
      const struck = onsets.some((at) => at > track.seconds[previous] && at <= track.seconds[i]);
      if (jump || struck) close();
    }
    frames.push(i);
  }
  close();
  return runs;
}

function levelRises({ rms, hopSeconds }: LevelContour, loudest: number): number[] {
  const span = Math.max(1, Math.round(RISE_SECONDS / hopSeconds));
  const rises: number[] = [];
  for (let i = span; i < rms.length; i++) {
    const rise = decibelsFromGain(rms[i] / loudest, -60) - decibelsFromGain(rms[i - span] / loudest, -60);
    const at = (i - span) * hopSeconds;
    if (
      rise >= RETRIGGER_DB &&
      rms[i] > ECHO_RATIO * loudest &&
      at - (rises[rises.length - 1] ?? -1) > MIN_NOTE_SECONDS
    )
      rises.push(at);
  }
  return rises;
}

function note(onset: number, end: number, f0Hz: number, rms: number): ReadingNote {
  const exact = midiFromHz(f0Hz);
  const midi = Math.min(127, Math.max(0, Math.round(exact)));
  const seconds = (value: number) => Math.round(value * 1e5) / 1e5;
  return {
    onsetSeconds: seconds(onset),
    durationSeconds: seconds(Math.max(0.01, end - onset)),
    midi,
    cents: Math.round((exact - midi) * 1000) / 10,
    levelDb: Math.round(decibelsFromGain(rms) * 10) / 10,
  };
}
