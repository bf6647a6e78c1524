import { type Audio, durationOf, toMono } from './audio';
import { evenedLevel, restoredLevel } from './level/evenedLevel';
import { fitContour } from './level/fitContour';
import { type FittedContour, soundingSpan } from './level/fittedContour';
import { type LevelContour, measureLevel } from './level/levelContour';
import { isCombed } from './movement/motion';
import { type MovingNotch, findMovingNotch } from './movement/movingNotch';
import { withoutNotches } from './movement/slowMovement';
import { type NoteMovement, measureNoteMovement } from './movement/noteMovement';
import { SURE_VOICES } from './movement/unison';
import { findNotes, noteNumber } from './notes/notes';
import { overlap } from './notes/overlap';
import { type PartialFrames, measurePartials } from './partials/partialFrames';
import { type PieceTraits, readPiece } from './piece/piece';
import { type Named, nameNote } from './partials/naming';
import { type Sidebands, findSidebands } from './sidebands/sidebands';
import { type Fundamental, findFundamental } from './pitch/fundamental';
import { findSlides, glideOf, withoutPassing } from './pitch/glide';
import { followPitch } from './pitch/followedPitch';
import { type PitchTrack, trackPitch } from './pitch/pitchTrack';
import type { ReadingNote } from './schema';
import { withoutRoom } from './space/withoutRoom';
import { type FilterTrack, trackFilter } from './spectra/filterTrack';

/** What is known of a cut from elsewhere. */
export interface ReadingContext {
  /** Tempo and key of the whole piece, which a short cut does not tell; divisions are told at that tempo. */
  piece?: PieceTraits;
  /** The fundamental, where it is known better than the cut tells it. */
  f0Hz?: number;
}

/** What traits are told from: the cut followed in pitch, level, notes and partials. */
export interface Material {
  audio: Audio;
  sampleRateHz: number;
  mono: Float64Array;
  piece: PieceTraits;
  track: PitchTrack;
  fundamental: Fundamental | undefined;
  /** The pitch at a time; there where a fundamental is. */
  f0At: ((seconds: number) => number) | undefined;
  level: LevelContour;
  fitted: FittedContour;
  notes: ReadingNote[];
  glideSeconds: number | undefined;
  /** Between which times it sounds. */
  fromSeconds: number;
  toSeconds: number;
  /** What moves within a note; not told of several, of which none is meant more than another. */
  movement: NoteMovement | undefined;
  partials: PartialFrames | undefined;
  filter: FilterTrack | undefined;
  notch: MovingNotch | undefined;
  sidebands: Sidebands;
  sources: Named['sources'];
  root: Named['root'] | undefined;
}

/**
 * Frames of partials over a cut; more would say nothing new. Of a phrase they stand for no note, only for the
 * whole.
 */
const MAX_PARTIAL_FRAMES = 240;
const MAX_PHRASE_FRAMES = 120;
const MIN_PARTIAL_HOP_SECONDS = 0.008;
/** So many times as many frames, where little of the cut sounds. */
const MOST_TIMES = 3;

/**
 * Follows a cut.
 *
 * @param onProgress called with 0..1; throwing from it cancels
 */
export function gather(
  audio: Audio,
  onProgress: (fraction: number) => void,
  { piece = readPiece(audio), f0Hz: knownHz }: ReadingContext,
): Material {
  const { sampleRateHz } = audio;
  const mono = toMono(audio);
  const track = trackPitch(mono, sampleRateHz);
  onProgress(0.2);
  const told = findFundamental(mono, sampleRateHz, track);
  const periodic = told && { ...told, f0Hz: knownHz ?? told.f0Hz };
  const level = measureLevel(audio.channels, sampleRateHz, periodic?.f0Hz);
  const asHeard = fitContour(level);
  onProgress(0.4);
  const span = soundingSpan(asHeard, durationOf(audio));
  const sidebands = knownHz === undefined ? findSidebands(mono, sampleRateHz, periodic, span) : {};
  const fitted = sidebands.ring
    ? fitContour(measureLevel(audio.channels, sampleRateHz, sidebands.ring.rateHz))
    : asHeard;
  const [fromSeconds, toSeconds] = soundingSpan(fitted, durationOf(audio));
  const found = periodic ?? fundamentalOf(sidebands, fromSeconds, toSeconds);
  const isSidebands = sidebands.fm !== undefined || sidebands.ring !== undefined;
  const foundNotes = findNotes({ mono, sampleRateHz, track, level, fundamental: found, fitted, isSidebands });
  const slides = foundNotes.length > 1 ? findSlides(mono, sampleRateHz, track) : [];
  const notes = withoutPassing(foundNotes, slides);
  const bpm = piece.tempo.bpm;
  const movement =
    found && notes.length === 1
      ? measureNoteMovement({ mono, sampleRateHz, track, f0Hz: found.f0Hz, level, fitted, bpm, isSidebands })
      : undefined;
  onProgress(0.7);
  const common = { audio, sampleRateHz, mono, piece, track, level, fitted, fromSeconds, toSeconds, movement };
  const glideSeconds = glideOf(slides);
  if (!found)
    return {
      ...common,
      notes,
      glideSeconds,
      fundamental: undefined,
      f0At: undefined,
      partials: undefined,
      filter: undefined,
      notch: undefined,
      sidebands: {},
      sources: undefined,
      root: undefined,
    };
  // Voices pull the pitch to whichever is in front; the middle of them is the tone's.
  const fundamental = { ...found, f0Hz: found.f0Hz * 2 ** ((movement?.centreCents ?? 0) / 1200) };
  const { f0Hz } = fundamental;
  const f0At = followPitch(mono, sampleRateHz, track, f0Hz, movement?.pitchAt);
  const hop = partialHop(toSeconds - fromSeconds, durationOf(audio), f0Hz, notes.length);
  const heard = measurePartials(mono, sampleRateHz, f0At, hop, undefined, fitted.onsetSeconds);
  const partials = heard && movement?.notched ? withoutNotches(heard, movement.notched) : heard;
  const even = heard && partials && notes.length === 1 ? ownLevel(level, movement, heard, partials) : undefined;
  const shape = even ? evenedFit(even, fitted) : fitted;
  const filter = partials && trackFilter(partials, f0Hz, sampleRateHz);
  const notch = partials && findNotch(movement, partials, fromSeconds + fitted.attackSeconds, toSeconds);
  onProgress(0.9);
  const named =
    notes.length === 1 && knownHz === undefined
      ? nameNote({ mono, sampleRateHz, fundamental, partials, fitted, sidebands, fromSeconds, toSeconds })
      : { root: { hz: f0Hz, multiple: 1 }, sources: undefined };
  return {
    ...common,
    fitted: shape,
    notes:
      notes.length === 1
        ? [{ ...endedAt(notes[0], shape, audio), ...noteNumber(named.root.hz) }]
        : lastLetGo(notes, level),
    glideSeconds,
    fundamental,
    f0At,
    partials,
    filter,
    notch,
    sidebands: notes.length === 1 ? sidebands : {},
    ...named,
  };
}

const beats = (movement: NoteMovement | undefined): boolean =>
  movement !== undefined && movement.unison.detuneCents !== null && movement.unison.confidence >= SURE_VOICES;

/** The level of the tone by itself, without beats and space; undefined where it is what is heard. */
function ownLevel(
  level: LevelContour,
  movement: NoteMovement | undefined,
  heard: PartialFrames,
  partials: PartialFrames,
): LevelContour | undefined {
  const even = evenLevel(level, movement, heard, partials);
  return movement?.room ? withoutRoom(even ?? level, movement.room).level : even;
}

/** The level without echoes, beats, or what notches took away; undefined where there are none. */
function evenLevel(
  level: LevelContour,
  movement: NoteMovement | undefined,
  heard: PartialFrames,
  partials: PartialFrames,
): LevelContour | undefined {
  if (movement?.withoutRepeats) return movement.withoutRepeats;
  if (movement?.notched) return restoredLevel(level, heard, partials);
  return beats(movement) ? evenedLevel(level, partials) : undefined;
}

/** A rise that is shorter than the frames of partials is as it was. */
function evenedFit(even: LevelContour, fitted: FittedContour): FittedContour {
  const fit = fitContour(even);
  if (fitted.attackSeconds > even.windowSeconds) return fit;
  const { onsetSeconds, attackSeconds } = fitted;
  return { ...fit, onsetSeconds, attackSeconds };
}

function endedAt(note: ReadingNote, { noteOffSeconds, onsetSeconds }: FittedContour, audio: Audio): ReadingNote {
  const end = noteOffSeconds ?? durationOf(audio);
  return { ...note, onsetSeconds, durationSeconds: end - onsetSeconds };
}

/** A note that is not let go sooner. */
const LEAST_SECONDS = 0.05;

/** A line whose last note ends where its key is let go: its pitch goes on while it dies away. */
function lastLetGo(notes: ReadingNote[], { rms, hopSeconds, windowSeconds }: LevelContour): ReadingNote[] {
  // The level of notes that sound together is nobody's own.
  if (notes.length === 0 || overlap({ notes })) return notes;
  const last = notes[notes.length - 1];
  const own = rms.slice(Math.floor(last.onsetSeconds / hopSeconds));
  const { noteOffSeconds } = fitContour({ rms: own, hopSeconds, windowSeconds });
  if (noteOffSeconds === null || noteOffSeconds < LEAST_SECONDS) return notes;
  return notes.with(-1, { ...last, durationSeconds: Math.min(last.durationSeconds, noteOffSeconds) });
}

/** What has no period can have a carrier, or a tone that was multiplied. */
function fundamentalOf({ fm, ring }: Sidebands, from: number, to: number): Fundamental | undefined {
  const f0Hz = fm?.carrierHz ?? ring?.f0Hz;
  return f0Hz === undefined ? undefined : { f0Hz, confidence: 0.6, steadyFromSeconds: from, steadyToSeconds: to };
}

/** A notch that goes through the partials, where no movement makes notches of its own. */
function findNotch(movement: NoteMovement | undefined, partials: PartialFrames, from: number, to: number) {
  if (!movement) return undefined;
  const moves = movement.motion.some(isCombed) || movement.unison.detuneCents;
  return moves ? undefined : findMovingNotch(partials, from, to);
}

/**
 * Frames hold four periods: of a low tone, frames that follow closely say the same. They are spread over what
 * sounds, so that silence around it changes nothing, as far as they stay few.
 */
function partialHop(soundingSeconds: number, seconds: number, f0Hz: number, notes: number): number {
  const most = notes > 1 ? MAX_PHRASE_FRAMES : MAX_PARTIAL_FRAMES;
  return Math.max(MIN_PARTIAL_HOP_SECONDS, soundingSeconds / most, seconds / (MOST_TIMES * most), 0.75 / f0Hz);
}
