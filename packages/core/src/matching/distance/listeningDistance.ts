import { resample } from '../../dsp/sinc';
import { type Audio, durationOf, sliceAudio } from '../../reading/audio';
import { flutterApart, levelsApart } from './apart';
import type { FreeVoices } from './chance';
import { type Heard, hear, scaleHeard } from './hear';
import { soundStart } from './onset';
import { type Prepared, type PreparedScale, evenAmong, evenUp, preparePrint, prepareReference } from './prepare';
import { pitchShift } from './shift';

/** How far two sounds are apart to the ear, and what of it, as parts whose squares add up. */
export interface ListeningDistance {
  listeningDb: number;
  overallJnd: number;
  parts: { moments: number; whole: number; flutter: number; sides: number; pitch: number; blur: number };
}

/** What of `listeningDb` is just noticeable: see docs/METHODS.md for what it was set by. */
const DB_PER_JND = 1;
/**
 * Twice what is just noticeable of sines one after the other (5 cents: Moore 2012), since tones are compared
 * with all else that they are.
 */
const SEMITONES_PER_JND = 0.1;
/** Far out of tune is not heard as so many times worse. */
const PITCH_LIMIT_JND = 12;
/** What squares of the other parts count for against those of levels. */
const SIDES_COUNT = 0.04;
const FLUTTER_COUNTS = 3;
const BLUR_COUNTS = 70;
/** How often the whole counts where moments are chance. */
const WHOLE_INSTEAD = 6;
/** What is known of a reference, for comparing others with it. */
export interface HeardOf {
  /** Where notes begin and end, s. */
  events?: readonly number[];
  /** Voices whose beats stand elsewhere each time that they are played. */
  freeVoices?: FreeVoices;
  /** What sounds with it in the track, as long and at the same rate: what that covers does not count. */
  surroundings?: Audio;
  /** How long it is taken to be; what it is when left out. */
  seconds?: number;
}

/** The reference made ready for comparing many prints with it. */
export class Listener {
  readonly #heard: Heard;
  readonly #reference: Prepared;
  readonly #isAmongOthers: boolean;

  constructor(
    reference: Audio,
    { events = [], freeVoices, surroundings, seconds = durationOf(reference) }: HeardOf = {},
  ) {
    this.#heard = hear(reference, seconds, events);
    const around = surroundings && heardAround(this.#heard, surroundings);
    this.#isAmongOthers = around !== undefined;
    this.#reference = prepareReference(this.#heard, { freeVoices, surroundings: around });
  }

  /** The distance of a print of the same notes at the same times and rate. */
  compare(print: Audio): ListeningDistance {
    const heard = hear(print, this.#heard.seconds, this.#heard.events);
    if (this.#isAmongOthers) evenAmong(heard, this.#reference.scales);
    else if (this.#reference.scales[0].chance) evenUp(heard, this.#reference.scales);
    const proof = preparePrint(heard, this.#reference);
    const squares = { moments: 0, whole: 0, flutter: 0, sides: 0 };
    const share = 1 / proof.scales.length;
    this.#reference.scales.forEach((scale, i) => {
      const own = proof.scales[i];
      const mid = heardApart(scale, own);
      const side = levelsApart(scale.side, own.side, scale);
      squares.moments += share * mid.moments;
      squares.whole += share * mid.whole;
      squares.sides += share * SIDES_COUNT * (side.moments + side.whole);
      squares.flutter +=
        share * FLUTTER_COUNTS * flutterApart(scale.flutter, own.flutter, scale.stepErb, scale.chance?.whole.own);
    });
    const outOfTune = Math.abs(pitchShift(this.#reference.spectrum, proof.spectrum)) / SEMITONES_PER_JND;
    const pitch = DB_PER_JND * PITCH_LIMIT_JND * (1 - Math.exp(-outOfTune / PITCH_LIMIT_JND));
    const blur = BLUR_COUNTS * meanSquare(this.#reference.blur, proof.blur);
    const parts = {
      moments: Math.sqrt(squares.moments),
      whole: Math.sqrt(squares.whole),
      flutter: Math.sqrt(squares.flutter),
      sides: Math.sqrt(squares.sides),
      pitch,
      blur: Math.sqrt(blur),
    };
    const listeningDb = Math.hypot(...Object.values(parts));
    return { listeningDb, overallJnd: listeningDb / DB_PER_JND, parts };
  }
}

/**
 * What both sides have in common, of one scale. Where moments are chance, the whole has to speak for them;
 * what is excused never counts for more than it would without.
 */
function heardApart(scale: PreparedScale, own: PreparedScale): { moments: number; whole: number } {
  const plain = levelsApart(scale.mid, own.mid, { ...scale, chance: undefined });
  if (!scale.chance) return plain;
  const { moments, whole } = levelsApart(scale.mid, own.mid, scale);
  const instead = { moments, whole: WHOLE_INSTEAD * whole };
  return instead.moments + instead.whole < plain.moments + plain.whole ? instead : plain;
}

/** What sounds around something, as loud as it is against that; undefined where it is silent. */
function heardAround({ seconds, events, gain }: Heard, surroundings: Audio): Heard | undefined {
  const around = hear(surroundings, seconds, events);
  if (around.gain === 0) return undefined;
  scaleHeard(around, gain / around.gain);
  return around;
}

const meanSquare = (a: Float64Array, b: Float64Array) => a.reduce((sum, x, i) => sum + (x - b[i]) ** 2, 0) / a.length;

/** The distance of two sounds that need not begin at the same time: both are taken from their onsets on. */
export function listeningDistance(
  reference: Audio,
  proof: Audio,
  { events = [], freeVoices, surroundings }: Omit<HeardOf, 'seconds'> = {},
): ListeningDistance {
  const other = atRate(proof, reference.sampleRateHz);
  const [from, own] = [soundStart(reference), soundStart(other)];
  const [a, b] = [sliceAudio(reference, from, Infinity), sliceAudio(other, own, Infinity)];
  const later = events.map((event) => event - from).filter((event) => event > 0);
  const seconds = Math.max(durationOf(a), durationOf(b));
  const around = surroundings && sliceAudio(surroundings, from, Infinity);
  return new Listener(a, { events: later, freeVoices, surroundings: around, seconds }).compare(b);
}

/** Bands and windows of two sounds are only the same at one rate. */
function atRate(audio: Audio, sampleRateHz: number): Audio {
  if (audio.sampleRateHz === sampleRateHz) return audio;
  const ratio = sampleRateHz / audio.sampleRateHz;
  return { channels: audio.channels.map((channel) => Float32Array.from(resample(channel, ratio))), sampleRateHz };
}
