import { centsBetween } from '../dsp/pitch';
import { type Audio, durationOf, toMono } from './audio';
import { measureBrightness } from './spectra/brightness';
import { measureDirt } from './spectra/dirt';
import { type FilterTrack, trackFilter } from './spectra/filterTrack';
import { type Fundamental, findFundamental } from './pitch/fundamental';
import { doubtsOf } from './doubts';
import { findSlides, glideOf, withoutPassing } from './pitch/glide';
import { suggestLayers } from './cuts/layerSuggestion';
import {
  type FittedContour,
  type LevelContour,
  audibleUntil,
  fitContour,
  measureLevel,
  soundingSpan,
} from './level/levelContour';
import { findMovingNotch } from './movement/movingNotch';
import { measureNoise } from './spectra/noise';
import { type NoteMovement, measureNoteMovement } from './movement/noteMovement';
import { findNotes } from './notes/notes';
import { type PartialFrames, measurePartials } from './partials/partialFrames';
import { type PieceTraits, readPiece } from './piece/piece';
import { type PitchTrack, framesNear, trackPitch } from './pitch/pitchTrack';
import { READING_VERSION, type Reading } from './schema';
import { brightnessTrait, loudnessTrait, partialsTrait, pitchTrait } from './traits';
import { noUnison } from './movement/unison';
import { measureWidth } from './space/width';
import { findWidthCause } from './space/widthCause';

/** Everything measured from a cut: the reading, and the raw material that a first patch is made of. */
export interface Measurement {
  reading: Reading;
  mono: Float64Array;
  fundamental: Fundamental | undefined;
  level: LevelContour;
  fitted: FittedContour;
  partials: PartialFrames | undefined;
  filter: FilterTrack | undefined;
}

/** Movements that are notches themselves. */
const COMBS: readonly NoteMovement['motion'][number]['cause'][] = ['chorus', 'phaser', 'beating'];
/** Frames of partials over a cut; more would say nothing new. Of a phrase they stand for no note, only for the whole. */
const MAX_PARTIAL_FRAMES = 240;
const MAX_PHRASE_FRAMES = 120;
const MIN_PARTIAL_HOP_SECONDS = 0.008;
/** What is known of a cut from elsewhere. */
export interface ReadingContext {
  /** Tempo and key of the whole piece, which a short cut does not tell; divisions are told at that tempo. */
  piece?: PieceTraits;
  /** The fundamental, where it is known better than the cut tells it. */
  f0Hz?: number;
}

/**
 * Measures one cut.
 *
 * @param onProgress called with 0..1; throwing from it cancels
 */
export function measure(
  audio: Audio,
  onProgress: (fraction: number) => void = () => {},
  { piece = readPiece(audio), f0Hz: knownHz }: ReadingContext = {},
): Measurement {
  const { sampleRateHz } = audio;
  const mono = toMono(audio);
  const track = trackPitch(mono, sampleRateHz);
  onProgress(0.2);
  const told = findFundamental(mono, sampleRateHz, track);
  const found = told && { ...told, f0Hz: knownHz ?? told.f0Hz };
  const level = measureLevel(audio.channels, sampleRateHz, found?.f0Hz);
  const fitted = fitContour(level);
  onProgress(0.4);
  const foundNotes = findNotes({ mono, sampleRateHz, track, level, fundamental: found, fitted });
  const slides = foundNotes.length > 1 ? findSlides(mono, sampleRateHz, track) : [];
  const notes = withoutPassing(foundNotes, slides);
  const [from, to] = soundingSpan(fitted, durationOf(audio));
  // What moves within a note belongs to a note: of several, none is meant more than another.
  const movement =
    found && notes.length === 1
      ? measureNoteMovement({ mono, sampleRateHz, track, f0Hz: found.f0Hz, level, fitted, bpm: piece.tempo.bpm })
      : undefined;
  onProgress(0.7);
  // Voices pull the pitch to whichever is in front; the middle of them is the tone's.
  const fundamental = found && { ...found, f0Hz: found.f0Hz * 2 ** ((movement?.centreCents ?? 0) / 1200) };
  const f0Hz = fundamental?.f0Hz;
  const f0At = f0Hz ? followPitch(track, f0Hz) : undefined;
  const partials =
    f0Hz && f0At ? measurePartials(mono, sampleRateHz, f0At, partialHop(audio, f0Hz, notes.length)) : undefined;
  const filter = partials && f0Hz ? trackFilter(partials, f0Hz, sampleRateHz) : undefined;
  onProgress(0.9);
  const brightness = measureBrightness(mono, sampleRateHz, f0Hz);
  const partialsRead = partialsTrait(partials, fitted, fundamental, movement?.inharmonicity);
  const moves = movement?.motion.some(({ cause }) => COMBS.includes(cause)) || movement?.unison.detuneCents;
  const notch = partials && movement && !moves ? findMovingNotch(partials, from + fitted.attackSeconds, to) : undefined;
  const width = measureWidth(audio, from, to);
  const cause =
    f0Hz && f0At && movement
      ? findWidthCause({ audio, f0Hz, f0At, fromSeconds: from, toSeconds: to, ...movement })
      : undefined;
  const unsure: Omit<Reading, 'doubts' | 'layers'> = {
    version: READING_VERSION,
    durationSeconds: durationOf(audio),
    sampleRateHz,
    channels: audio.channels.length,
    tempo: piece.tempo,
    key: piece.key,
    notes,
    traits: {
      pitch: pitchTrait(track, fundamental, movement, from, glideOf(slides)),
      loudness: loudnessTrait(audio, level, fitted),
      brightness: brightnessTrait(brightness, filter, fitted, fundamental, notch),
      partials: partialsRead,
      noise:
        // Stretched partials stand where noise is looked for.
        partials && f0Hz && f0At && !movement?.inharmonicity
          ? measureNoise({ mono, sampleRateHz, f0Hz, f0At }, partials, from, to)
          : { levelDb: null, centroidHz: null, attackOnly: null, confidence: 0 },
      unison: movement?.unison ?? noUnison,
      width: cause ? { ...width, cause: cause.cause, delaySeconds: cause.delaySeconds ?? null } : width,
      motion: movement?.motion ?? [],
      space: movement?.space ?? { rt60Seconds: null, preDelaySeconds: null, echo: null, confidence: 0 },
      dirt: measureDirt({
        samples: audio.channels[0],
        sampleRateHz,
        // Of several notes there is no waveform to compare.
        f0Hz: notes.length === 1 ? f0Hz : undefined,
        fromSeconds: from,
        // How a waveform changes as it dies away says most, also after the note was let go.
        toSeconds: audibleUntil(level),
        partialsDb: partialsRead.levelsDb,
      }),
    },
  };
  const layers = notes.length === 1 ? suggestLayers(audio, unsure.traits, from) : [];
  const reading = { ...unsure, layers, doubts: doubtsOf({ ...unsure, layers }) };
  onProgress(1);
  return { reading, mono, fundamental, level, fitted, partials, filter };
}

/** All traits of a cut. See `measure`. */
export const readTone = (audio: Audio, onProgress?: (fraction: number) => void, context?: ReadingContext): Reading =>
  measure(audio, onProgress, context).reading;

/** Frames hold four periods: of a low tone, frames that follow closely say the same. */
const partialHop = (audio: Audio, f0Hz: number, notes: number) =>
  Math.max(
    MIN_PARTIAL_HOP_SECONDS,
    durationOf(audio) / (notes > 1 ? MAX_PHRASE_FRAMES : MAX_PARTIAL_FRAMES),
    0.75 / f0Hz,
  );

/** The pitch at a time: the track where it is clear and near the fundamental, the fundamental elsewhere. */
function followPitch(track: PitchTrack, f0Hz: number): (seconds: number) => number {
  const usable = new Set(framesNear(track, f0Hz, 250));
  const hop = track.seconds.length > 1 ? track.seconds[1] - track.seconds[0] : 1;
  return (seconds) => {
    const frame = Math.round((seconds - track.seconds[0]) / hop);
    if (!usable.has(frame)) return f0Hz;
    // YIN's own scatter of a cent or two would smear high partials: small deviations are taken as none.
    return Math.abs(centsBetween(f0Hz, track.f0Hz[frame])) < 6 ? f0Hz : track.f0Hz[frame];
  };
}
