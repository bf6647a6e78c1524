import { hzFromMidi } from '../../dsp/pitch';
import type { PitchTrack } from '../pitch/pitchTrack';
import { median, spread } from '../statistics';
import { type Pulse, findPulse } from './pulse';
import { tonalRises } from './rises';
import { startsAnew } from './startAnew';
import { leastCoherence, strikeAt, tonalChange } from './strike';
import { CLEAR, type LineSound, type Stretch } from './stretchPitch';
import { stretchesOf } from './stretches';

/** A sound with the step of its line. */
export interface Phrase extends LineSound {
  pulse: Pulse | undefined;
  /** Of the onsets those at steps of the pulse at which what usually begins a note is heard. */
  steps: ReadonlySet<number>;
  /** Those that are at none. */
  offSteps: ReadonlySet<number>;
  /** Whether notes that go on come and go by themselves. */
  isMoving: boolean;
}

/** An onset is a new note of the same pitch unless partials go on where they were, hardly louder. */
const STRUCK_DB = 1.5;
const RENEWED_COHERENCE = 0.8;
/** Of notes that move by themselves those struck again rise by this much. */
const MOVING_DB = 6;
/** At a hit noise is in all of this: it counts where the note is clear of it. */
const PURE = 0.6;
const TONAL_DB = 1.5;
const HIT_COHERENCE = 0.5;
/** So much of what usually begins a note begins one. */
const LIKE_START = 0.35;
const DOUBTFUL_START = 0;
/** Onsets are told this far off the step that they are at. */
const OFF_STEP_SECONDS = 0.08;
const OFF_STEP_SHARE = 0.3;
/** Those that are no further off are more exact than the step. */
const EXACT_SECONDS = 0.025;
/** Where this share of the onsets are hits what comes round is looked for in the tone alone. */
const MANY_HITS = 0.35;
const BEFORE_SECONDS = 0.03;

/** Adds the steps of the line's pulse at which notes begin that are not among the onsets. */
export function withSteps(sound: LineSound): Phrase {
  const { mono, sampleRateHz, onsets, hits } = sound;
  const unaware = {
    ...sound,
    pulse: undefined,
    steps: new Set<number>(),
    offSteps: new Set<number>(),
    isMoving: false,
  };
  const hzAt = pitchOver(unaware);
  const isHit = hits.length >= MANY_HITS * onsets.length;
  const pulse = findPulse(mono, sampleRateHz, onsets, isHit ? tonalRises(mono, sampleRateHz, hzAt) : undefined);
  if (!pulse) return unaware;
  if (isMovement(sound, pulse, hzAt, isHit)) return { ...unaware, isMoving: true };
  const { stepSeconds, firstSeconds, likeness } = pulse;
  const reach = Math.min(OFF_STEP_SECONDS, OFF_STEP_SHARE * stepSeconds);
  const steps = new Set<number>();
  const others = new Set(onsets);
  const offSteps = new Set(onsets);
  for (let at = firstSeconds; at < mono.length / sampleRateHz; at += stepSeconds) {
    const told = onsets.filter((onset) => Math.abs(onset - at) < reach);
    for (const onset of told) offSteps.delete(onset);
    if (likeness(at) < LIKE_START) continue;
    const near = told.filter((onset) => Math.abs(onset - at) < EXACT_SECONDS);
    steps.add(near.length === 0 ? at : near.reduce((a, b) => (Math.abs(b - at) < Math.abs(a - at) ? b : a)));
    for (const onset of told) others.delete(onset);
  }
  return { ...sound, onsets: [...others, ...steps].sort((a, b) => a - b), pulse, steps, offSteps, isMoving: false };
}

/** A movement of what sounds, by a tremolo, a filter or ducking, keeps its phases. */
const KEPT_COHERENCE = 0.9;
const LOOKED_STEPS = 24;
/** When voices beat less of what moves is rising of all together, and phases are kept more or less. */
const TOGETHER = 0.16;
const BEATING_COHERENCE = 0.6;
/** Cents from frame to frame, and the share of them, at which a pitch swings. */
const SWING_CENTS = 3;
const SWING_SHARE = 0.7;
const NOTE_CENTS = 150;

/** Whether notes go on where something comes round. Hits beside a tone look like beats and like a vibrato. */
function isMovement(sound: LineSound, pulse: Pulse, hzAt: (seconds: number) => number, isHit: boolean): boolean {
  const kept = keptCoherence(sound, pulse, hzAt);
  if (kept > KEPT_COHERENCE) return true;
  return !isHit && ((pulse.together < TOGETHER && kept > BEATING_COHERENCE) || swings(sound.track, hzAt));
}

/** How coherent the partials of the same note are at most steps. */
function keptCoherence({ mono, sampleRateHz }: LineSound, pulse: Pulse, hzAt: (seconds: number) => number): number {
  const { stepSeconds, firstSeconds } = pulse;
  const within: number[] = [];
  for (let at = firstSeconds + stepSeconds; at < mono.length / sampleRateHz; at += stepSeconds) {
    // Another pitch is another note in any case.
    if (hzAt(at) > 0 && hzAt(at) === hzAt(at - stepSeconds / 2 - BEFORE_SECONDS)) within.push(at);
  }
  if (within.length === 0) return 0;
  const kept = spread(within.length, LOOKED_STEPS).map((i) =>
    leastCoherence(mono, sampleRateHz, hzAt(within[i]), within[i]),
  );
  return median(kept);
}

function swings({ seconds, f0Hz, clarity }: PitchTrack, hzAt: (seconds: number) => number): boolean {
  const cents = Array.from(seconds, (at, i) => (clarity[i] > CLEAR ? 1200 * Math.log2(f0Hz[i] / hzAt(at)) : NaN));
  const steps = cents.flatMap((now, i) =>
    Math.abs(now) < NOTE_CENTS && Math.abs(cents[i - 1]) < NOTE_CENTS ? [Math.abs(now - cents[i - 1])] : [],
  );
  return steps.filter((step) => step > SWING_CENTS).length > SWING_SHARE * steps.length;
}

/** The frequency of the line as far as its onsets tell it, a little before each on. */
function pitchOver(phrase: Phrase): (seconds: number) => number {
  const stretches = stretchesOf(phrase, phrase.mono.length / phrase.sampleRateHz);
  return (seconds) => {
    const at = stretches.findLast(({ from }) => from < seconds + BEFORE_SECONDS) ?? stretches[0];
    return at ? hzFromMidi(at.midi) : NaN;
  };
}

/** Whether a stretch of the same note as the one before begins with a note of its own. */
export function isStruck(
  { mono, sampleRateHz, hits, pulse, steps, offSteps, isMoving }: Phrase,
  { midi, from }: Stretch,
): boolean {
  if (steps.has(from)) return true;
  // Between steps nothing begins that does not begin as notes of this line do; at steps that hardly does so.
  if (pulse && pulse.likeness(from) < (offSteps.has(from) ? LIKE_START : DOUBTFUL_START)) return false;
  const f0Hz = hzFromMidi(midi);
  const isHit = hits.includes(from);
  const tonal = isHit ? tonalChange(mono, sampleRateHz, f0Hz, from) : undefined;
  const isPure = tonal === undefined || tonal.purity > PURE;
  if (isPure && startsAnew(mono, sampleRateHz, f0Hz, from)) return true;
  const { coherence, riseDb } = strikeAt(mono, sampleRateHz, f0Hz, from);
  if (isMoving && (riseDb < MOVING_DB || coherence > RENEWED_COHERENCE)) return false;
  if (!tonal) return riseDb > STRUCK_DB || coherence < RENEWED_COHERENCE;
  return isPure && (tonal.riseDb > TONAL_DB || riseDb > STRUCK_DB || coherence < HIT_COHERENCE);
}
