import { type FinePitch, trackFinePitch } from '../pitch/finePitch';
import { measureInharmonicity } from '../partials/inharmonicity';
import { type FittedContour, soundingSpan } from '../level/fittedContour';
import type { LevelContour } from '../level/levelContour';
import { type Motion, isCombed, measureMotion } from './motion';
import { type PartialEnvelopes, measureEnvelopes, powersOf } from '../partials/partialEnvelopes';
import type { PeriodicMovement } from './periodicMovement';
import type { NotchedLevel } from './slowMovement';
import { type PitchSweep, type Vibrato, findDrift, findSweep, findVibrato } from '../pitch/pitchMovement';
import { type RoundBrightness, findRoundBrightness } from './roundBrightness';
import type { PitchAt } from '../pitch/followedPitch';
import type { PitchTrack } from '../pitch/pitchTrack';
import { fitSineSlide } from '../pitch/sineSlide';
import type { Reading } from '../schema';
import type { Room } from '../space/room';
import { type Space, measureSpace } from '../space/space';
import { mean } from '../statistics';
import { measureUnison, noUnison } from './unison';

/** What one note does while it sounds. */
export interface NoteMovement {
  /** Its pitch by the phases of its partials; undefined where nothing says that it moves. */
  pitchAt: PitchAt | undefined;
  vibrato: PeriodicMovement | undefined;
  sweep: PitchSweep | undefined;
  driftCents: number | undefined;
  unison: Reading['traits']['unison'];
  /** Middle of the voices, or the first of stretched partials, from the fundamental that was given. */
  centreCents: number;
  motion: Motion[];
  /** What notches that go round slowly do to its partials. */
  notched: NotchedLevel | undefined;
  space: Space;
  /** The level without what comes back of it; undefined where nothing does. */
  withoutRepeats: LevelContour | undefined;
  room: Room | undefined;
  /** Undefined where the partials do not tell. */
  inharmonicity: number | undefined;
}

/** A note with what is known of it. */
export interface Note {
  mono: Float64Array;
  sampleRateHz: number;
  track: PitchTrack;
  f0Hz: number;
  level: LevelContour;
  fitted: FittedContour;
  bpm: number | null;
  /** Whether its lines are sidebands, not partials: then only its level is followed. */
  isSidebands?: boolean;
}

const MOST_PARTIALS = 24;
/** Voices are told for certain from this confidence on. */
const SURE = 0.8;
/** Power of other partials beside a sine, which a window lets through. */
const ALONE_SHARE = 1e-3;
/** The same of odd ones, that the hardest curve makes: those of a square. */
const BENT_SHARE = 0.24;
/** A longer note says nothing new. */
const MOST_SECONDS = 10;

/** Vibrato, slide, detuned voices, periodic movements and the space of a note. */
export function measureNoteMovement(note: Note): NoteMovement {
  const { mono, sampleRateHz, track, f0Hz, level, fitted, bpm, isSidebands } = note;
  if (isSidebands) return withoutMovement(note);
  const [from, end] = soundingSpan(fitted, mono.length / sampleRateHz);
  const to = Math.min(end, from + MOST_SECONDS);
  // What is left of the room after the note is looked at, too.
  const looked = mono.subarray(0, Math.ceil((from + MOST_SECONDS) * sampleRateHz));
  const fine = finePitchWithin(trackFinePitch(looked, sampleRateHz, track, f0Hz), from, to);
  const settled = Math.min(from + fitted.attackSeconds, (from + to) / 2);
  const round = findRoundBrightness({ mono: looked, sampleRateHz, f0Hz }, settled, to);
  const vibrato = ownVibrato(findVibrato(fine), round);
  const seen = findSweep(fine, from);
  const pitchAt = vibrato || seen ? followFine(fine, f0Hz) : undefined;
  const envelopes = measureEnvelopes(looked, sampleRateHz, f0Hz, {
    mostPartials: MOST_PARTIALS,
    // Beating makes the pitch jump from voice to voice: it is followed only where the note itself moves.
    f0At: pitchAt,
  });
  const wave = waveOf(envelopes, from, to);
  const sweep = (wave && fitSineSlide(mono, sampleRateHz, f0Hz, from, wave === 'bent')) || seen;
  const slidesSeconds = sweep?.seconds ?? 0;
  const driftCents = findDrift(fine, Math.max(settled, from + 2 * slidesSeconds));
  const stretch = measureInharmonicity(envelopes, settled, to);
  // What is left of a slide is as wide as voices are.
  const still = Math.min(Math.max(settled, from + 3 * slidesSeconds), (from + to) / 2);
  const voices = measureUnison(envelopes, still, to);
  // Lines that stand at the same cents from low and from high partials are voices, whatever else would do.
  const counted = voices.trait.voices !== null && voices.trait.confidence > SURE;
  const stiff = stretch !== undefined && stretch.inharmonicity > 0 && !counted;
  // Stretched partials stand beside their places by different cents each: they are no voices.
  const single = { ...noUnison, spectrum: voices.trait.spectrum, confidence: 0.5 };
  const heard = stiff ? single : voices.trait;
  const {
    motion: all,
    notched,
    isRound,
  } = measureMotion({
    level,
    envelopes,
    unison: heard,
    vibrato,
    round,
    bpm,
    onsetSeconds: from,
    fromSeconds: settled,
    toSeconds: to,
  });
  // What goes round as often as two voices beat is their beating.
  const beats =
    counted &&
    heard.beatHz !== null &&
    all.some(({ cause, rateHz }) => cause === 'chorus' && isRateOf(1 / heard.beatHz!, rateHz));
  const moved = beats ? all.filter(({ cause }) => cause !== 'chorus') : all;
  // The copy of a chorus is detuned only for as long as its delay moves one way; so are the edges of a pulse.
  const isCopied = !beats && moved.some(({ cause }) => cause === 'chorus' || cause === 'pulseWidth');
  // A pitch that slides, or a filter that passes, is as wide as voices that cannot be counted.
  const isWide = sweep !== undefined || isRound || moved.some(({ cause }) => cause === 'notch' || cause === 'phaser');
  const alone = isCopied || (isWide && heard.voices === null) ? single : heard;
  const { space, withoutRepeats, room, isSpread } = measureSpace({
    level,
    fitted,
    envelopes,
    detuned: alone.detuneCents !== null,
    combed: moved.some((movement) => isCombed(movement) && movement.cause !== 'beating'),
    bpm,
  });
  // Repeats have lines of their own beside every partial, or make them wide.
  const unison = isSpread ? single : alone;
  // Repeats that die away are an echo, not a movement of the tone.
  const motion = moved.filter(
    ({ of, rateHz }) => of !== 'loudness' || !space.echo || !isRateOf(space.echo.seconds, rateHz),
  );
  const ownPitchCents = stiff ? 1200 * Math.log2(stretch.f1Hz / f0Hz) : voices.centreCents;
  const voicesCents = stiff || unison === voices.trait ? ownPitchCents : 0;
  const centreCents = vibrato ? middleOfTurns(fine, vibrato.rateHz) : voicesCents;
  const inharmonicity = stretch?.inharmonicity;
  return {
    pitchAt,
    vibrato,
    sweep,
    driftCents,
    unison,
    centreCents,
    motion,
    notched,
    space,
    withoutRepeats,
    room,
    inharmonicity,
  };
}

/** Whether a tone is one sine, or one that a curve was over, after the start, which a slide smears. */
function waveOf({ seconds, partials }: PartialEnvelopes, from: number, to: number): 'sine' | 'bent' | undefined {
  const late = [...seconds.keys()].filter((i) => seconds[i] > (from + to) / 2 && seconds[i] < to);
  const sums = partials.map((partial) => {
    const powers = powersOf(partial);
    return late.reduce((sum, i) => sum + powers[i], 0);
  });
  const shareOf = (those: readonly number[]) => those.reduce((sum, power) => sum + power, 0) / sums[0];
  if (!(sums[0] > 0)) return undefined;
  if (shareOf(sums.slice(1)) < ALONE_SHARE) return 'sine';
  const [even, odd] = [1, 0].map((rest) => shareOf(sums.filter((_, n) => n > 0 && n % 2 === rest)));
  return even < ALONE_SHARE && odd < BENT_SHARE ? 'bent' : undefined;
}

function withoutMovement({ mono, sampleRateHz, f0Hz, level, fitted, bpm }: Note): NoteMovement {
  const envelopes = measureEnvelopes(mono, sampleRateHz, f0Hz, { mostPartials: 1 });
  const { space, withoutRepeats, room } = measureSpace({
    level,
    fitted,
    envelopes,
    detuned: false,
    combed: false,
    bpm,
  });
  return {
    pitchAt: undefined,
    vibrato: undefined,
    sweep: undefined,
    driftCents: undefined,
    unison: noUnison,
    centreCents: 0,
    motion: [],
    notched: undefined,
    space,
    withoutRepeats,
    room,
    inharmonicity: undefined,
  };
}

/** Partials of a pitch that moves agree at least so far, however bright the tone is at the time. */
const CERTAIN_AGREEMENT = 0.99;
/** A cutoff that comes by on its way up and down turns phases twice a turn. */
const TURNS_A_TURN = [1, 2];

/** A vibrato, unless it is what a filter that goes round does to the phases of partials. */
function ownVibrato(vibrato: Vibrato | undefined, round: RoundBrightness | undefined): Vibrato | undefined {
  if (!vibrato || !round || vibrato.agreement > CERTAIN_AGREEMENT) return vibrato;
  const isRound = TURNS_A_TURN.some((turns) => Math.abs(vibrato.rateHz / (turns * round.rateHz) - 1) < SAME_RATE);
  return isRound ? undefined : vibrato;
}

/** Mean of a pitch over whole turns of its vibrato, cents. */
function middleOfTurns({ seconds, cents }: FinePitch, rateHz: number): number {
  const clear = [...cents.keys()].filter((i) => Number.isFinite(cents[i]));
  const from = seconds[clear[0]];
  const turns = Math.floor((seconds[clear[clear.length - 1]] - from) * rateHz);
  return mean(clear.filter((i) => seconds[i] < from + turns / rateHz).map((i) => cents[i]));
}

const SAME_RATE = 0.04;

/** Whether something at a rate comes round once, or a few times, in a time. */
function isRateOf(seconds: number, rateHz: number): boolean {
  const turns = seconds * rateHz;
  return Math.abs(turns / Math.max(1, Math.round(turns)) - 1) < SAME_RATE;
}

function finePitchWithin(fine: FinePitch, from: number, to: number): FinePitch {
  const inside = (at: number) => at >= from && at <= to;
  const within = (values: Float64Array) => values.map((cents, i) => (inside(fine.seconds[i]) ? cents : NaN));
  return { ...fine, cents: within(fine.cents), partialCents: fine.partialCents.map(within) };
}

/** The pitch at a time, the last known one where there is none. */
function followFine({ seconds, cents }: FinePitch, f0Hz: number): PitchAt {
  const hop = seconds[1] - seconds[0];
  let last = cents.find(Number.isFinite) ?? 0;
  const filled = cents.map((value) => (last = Number.isFinite(value) ? value : last));
  return (at) => {
    const place = Math.max(0, Math.min(filled.length - 1, (at - seconds[0]) / hop));
    const whole = Math.floor(place);
    const next = filled[Math.min(filled.length - 1, whole + 1)];
    return f0Hz * 2 ** ((filled[whole] + (place - whole) * (next - filled[whole])) / 1200);
  };
}
