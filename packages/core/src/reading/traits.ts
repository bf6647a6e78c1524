import { decibelsFromGain } from '../dsp/decibels';
import { integratedLoudness } from '../dsp/loudness';
import { midiFromHz } from '../dsp/pitch';
import type { Audio } from './audio';
import type { BrightnessContour } from './spectra/brightness';
import { type FilterTrack, strongest } from './spectra/filterTrack';
import type { Fundamental } from './pitch/fundamental';
import { type FittedContour, type LevelContour, soundingSpan } from './level/levelContour';
import type { MovingNotch } from './movement/movingNotch';
import type { NoteMovement } from './movement/noteMovement';
import { type PartialFrames, frameAmplitudes } from './partials/partialFrames';
import type { PitchTrack } from './pitch/pitchTrack';
import type { Reading, Series } from './schema';
import { nearestShape, oddMinusEvenDb, standoutPartials, tiltDbPerOctave } from './partials/spectralShape';
import { median, quantile } from './statistics';

type Traits = Reading['traits'];

/** Partials kept per frame in the reading's plot. */
const PLOTTED_PARTIALS = 24;

export const rounded = (value: number, digits = 6) => Number(value.toPrecision(digits));

function toSeries(
  hopSeconds: number,
  values: ArrayLike<number>,
  convert: (value: number) => number = (v) => v,
): Series {
  return {
    hopSeconds,
    values: Array.from(values, (value) => (Number.isFinite(value) ? rounded(convert(value), 5) : null)),
  };
}

/** Every nth value, so that a contour of a long cut stays a document of sensible size. */
function thinned(values: Float64Array, hopSeconds: number): { values: Float64Array; hopSeconds: number } {
  const step = Math.max(1, Math.ceil(values.length / 2000));
  return { values: values.filter((_, i) => i % step === 0), hopSeconds: hopSeconds * step };
}

export function pitchTrait(
  track: PitchTrack,
  fundamental: Fundamental | undefined,
  movement: NoteMovement | undefined,
  onsetSeconds: number,
  glideSeconds: number | undefined,
): Traits['pitch'] {
  const hop = track.seconds.length > 1 ? track.seconds[1] - track.seconds[0] : 0.01;
  const lead = Math.round(track.seconds[0] / hop);
  const clear = track.f0Hz.map((hz, i) => (track.clarity[i] > 0.6 ? hz : NaN));
  const contour = toSeries(hop, [...new Array<number>(lead).fill(NaN), ...clear]);
  const { sweep, vibrato, driftCents } = movement ?? {};
  const moved = {
    vibrato: vibrato
      ? {
          rateHz: rounded(vibrato.rateHz),
          depthCents: rounded(vibrato.depth),
          onsetSeconds: rounded(Math.max(0, vibrato.onsetSeconds - onsetSeconds)),
        }
      : null,
    sweep: sweep ? { semitones: rounded(sweep.semitones), seconds: rounded(sweep.seconds) } : null,
    driftCents: driftCents === undefined ? null : rounded(driftCents, 4),
    glideSeconds: glideSeconds === undefined ? null : rounded(glideSeconds),
    contour,
  };
  if (!fundamental) return { f0Hz: null, midi: null, cents: null, ...moved, confidence: 0 };
  const exact = midiFromHz(fundamental.f0Hz);
  const midi = Math.round(exact);
  return {
    f0Hz: rounded(fundamental.f0Hz, 9),
    midi,
    cents: rounded((exact - midi) * 100),
    ...moved,
    confidence: fundamental.confidence,
  };
}

export function loudnessTrait(
  { channels, sampleRateHz }: Audio,
  level: LevelContour,
  fitted: FittedContour,
): Traits['loudness'] {
  let peak = 0;
  let power = 0;
  for (const channel of channels) {
    for (const x of channel) {
      peak = Math.max(peak, Math.abs(x));
      power += (x * x) / (channel.length * channels.length);
    }
  }
  const lufs = integratedLoudness(channels, sampleRateHz);
  const { values, hopSeconds } = thinned(level.rms, level.hopSeconds);
  const confidence = Math.max(0, Math.min(1, 1.1 - fitted.errorDb / 8));
  return {
    lufs: Number.isFinite(lufs) ? rounded(lufs) : null,
    peakDb: rounded(decibelsFromGain(peak)),
    crestDb: power > 0 ? rounded(decibelsFromGain(peak) - 10 * Math.log10(power)) : null,
    onsetSeconds: rounded(fitted.onsetSeconds),
    startsSounding: startsSounding(channels[0], sampleRateHz),
    attackSeconds: rounded(fitted.attackSeconds),
    holdSeconds: rounded(fitted.holdSeconds),
    decaySeconds: rounded(fitted.decaySeconds),
    sustainDb: rounded(fitted.sustainDb),
    noteOffSeconds: fitted.noteOffSeconds === null ? null : rounded(fitted.noteOffSeconds),
    releaseSeconds: fitted.releaseSeconds === null ? null : rounded(fitted.releaseSeconds),
    fullLevelDb: rounded(decibelsFromGain(fitted.fullRms)),
    fitErrorDb: rounded(fitted.errorDb),
    contour: toSeries(hopSeconds, values, (rms) => Math.max(-120, decibelsFromGain(rms))),
    confidence,
  };
}

/** What is looked at of the start, and what it is compared with. */
const START_SECONDS = 0.001;
const EARLY_SECONDS = 0.05;
const SOUNDING_SHARE = 0.4;

/** Whether the first millisecond is as loud, or moves as quickly, as what follows: nothing rises from silence in that time. */
function startsSounding(samples: Float32Array, sampleRateHz: number): boolean {
  const largest = (seconds: number, of: (i: number) => number) => {
    let most = 0;
    for (let i = 1; i < Math.min(samples.length, seconds * sampleRateHz); i++) most = Math.max(most, Math.abs(of(i)));
    return most;
  };
  const measures = [(i: number) => samples[i], (i: number) => samples[i] - samples[i - 1]];
  return measures.some((of) => {
    const early = largest(EARLY_SECONDS, of);
    return early > 1e-4 && largest(START_SECONDS, of) > SOUNDING_SHARE * early;
  });
}

export function brightnessTrait(
  { hopSeconds, centroidHz, meanHz }: BrightnessContour,
  filter: FilterTrack | undefined,
  fitted: FittedContour,
  fundamental: Fundamental | undefined,
  notch: MovingNotch | undefined,
): Traits['brightness'] {
  const contour = toSeries(hopSeconds, centroidHz);
  const none = {
    cutoffHz: null,
    slopeDbPerOctave: null,
    resonanceDb: null,
    filterKind: null,
    highpassHz: null,
    highpassSlopeDbPerOctave: null,
    notch: null,
    sweep: null,
  };
  const centroid = Number.isFinite(meanHz) ? rounded(meanHz) : null;
  if (!filter || !fundamental) {
    const cutoffContour = { hopSeconds, values: [] };
    return { centroidHz: centroid, ...none, contour, cutoffContour, confidence: centroid === null ? 0 : 0.5 };
  }
  const [from, to] = soundingSpan(fitted, Infinity);
  const heard = filter.cutoffHz.filter(
    (hz, i) => Number.isFinite(hz) && filter.seconds[i] >= from && filter.seconds[i] <= to,
  );
  const sweep = cutoffSweep(filter, from, to);
  const middleHz = heard.length > 0 ? rounded(quantile(heard, 0.5)) : null;
  const partialHop = filter.seconds.length > 1 ? filter.seconds[1] - filter.seconds[0] : hopSeconds;
  return {
    centroidHz: centroid,
    cutoffHz: middleHz,
    slopeDbPerOctave: filter.slopeDbPerOctave,
    resonanceDb: rounded(filter.resonanceDb, 4),
    filterKind: filter.highpass ? ((middleHz ?? 0) > OPEN_HZ ? 'highpass' : 'bandpass') : 'lowpass',
    highpassHz: filter.highpass ? rounded(filter.highpass.cutoffHz) : null,
    highpassSlopeDbPerOctave: filter.highpass?.slopeDbPerOctave ?? null,
    notch: notch
      ? {
          fromHz: rounded(notch.fromHz),
          toHz: rounded(notch.toHz),
          seconds: rounded(notch.seconds),
          depthDb: rounded(notch.depthDb, 3),
        }
      : null,
    sweep,
    contour,
    cutoffContour: toSeries(partialHop, filter.cutoffHz),
    confidence: Math.max(0, Math.min(1, fundamental.confidence * (1.1 - filter.errorDb / 12) * (sweep ? 1 : STILL))),
  };
}

/** A low-pass from here on does nothing that is heard. */
const OPEN_HZ = 15000;
/** A filter that stands still may as well be a darker source. */
const STILL = 0.6;

const MIN_SWEEP_OCTAVES = 0.5;

const SMOOTHED_FRAMES = 3;

/** First to last cutoff of the sounding part, when they are half an octave or more apart; the time to cover 90 % of it. */
function cutoffSweep({ seconds, cutoffHz }: FilterTrack, from: number, to: number): Traits['brightness']['sweep'] {
  const inside = [...seconds.keys()].filter(
    (i) => seconds[i] >= from && seconds[i] <= to && Number.isFinite(cutoffHz[i]),
  );
  if (inside.length < 8) return null;
  // Single frames err, those over the onset most; medians of neighbours do not.
  const octaves = inside.map((_, k) =>
    Math.log2(median(inside.slice(Math.max(0, k - SMOOTHED_FRAMES), k + SMOOTHED_FRAMES + 1).map((i) => cutoffHz[i]))),
  );
  const first = octaves[0];
  const last = median(octaves.slice(-Math.max(2, Math.floor(octaves.length / 12))));
  if (Math.abs(last - first) < MIN_SWEEP_OCTAVES) return null;
  const arrived = octaves.findIndex((octave) => (octave - first) / (last - first) >= 0.9);
  const until = seconds[inside[arrived < 0 ? inside.length - 1 : arrived]];
  return { fromHz: rounded(2 ** first), toHz: rounded(2 ** last), seconds: rounded(until - from) };
}

export function partialsTrait(
  frames: PartialFrames | undefined,
  fitted: FittedContour,
  fundamental: Fundamental | undefined,
  inharmonicity: number | undefined,
): Traits['partials'] {
  const empty = { hopSeconds: 0.01, frames: [] };
  if (!frames || !fundamental) {
    return {
      levelsDb: [],
      oddMinusEvenDb: null,
      tiltDbPerOctave: null,
      inharmonicity: null,
      standout: [],
      nearestShape: null,
      pulseWidth: null,
      overTime: empty,
      confidence: 0,
    };
  }
  const [from, to] = soundingSpan(fitted, Infinity);
  const power = new Float64Array(frames.count);
  // A frame that reaches over an edge leaks between its partials; it is left out where there are enough others.
  const reach = 2 / frames.f0Hz;
  const end = Math.min(to, frames.seconds[frames.seconds.length - 1]);
  const inner = end - from > 6 * reach ? reach : 0;
  frames.seconds.forEach((seconds, t) => {
    if (seconds < from + inner || seconds > end - inner) return;
    frameAmplitudes(frames, t).forEach((amplitude, i) => (power[i] += amplitude * amplitude));
  });
  const top = strongest(power);
  const levelsDb = Array.from(power, (p) => rounded(Math.max(-120, 10 * Math.log10(p / top + 1e-12)), 5));
  const shape = nearestShape(levelsDb);
  const loudest = strongest(frames.amplitudes);
  const step = Math.max(1, Math.ceil(frames.seconds.length / 120));
  const kept = [...frames.seconds.keys()].filter((t) => t % step === 0);
  const hop = frames.seconds.length > 1 ? frames.seconds[1] - frames.seconds[0] : 0.01;
  const tilt = tiltDbPerOctave(levelsDb);
  const oddEven = oddMinusEvenDb(levelsDb);
  return {
    levelsDb,
    oddMinusEvenDb: oddEven === null ? null : rounded(oddEven, 5),
    tiltDbPerOctave: tilt === null ? null : rounded(tilt, 5),
    inharmonicity: inharmonicity === undefined ? null : rounded(inharmonicity, 4),
    standout: standoutPartials(levelsDb),
    nearestShape: shape.shape,
    pulseWidth: shape.pulseWidth,
    overTime: {
      hopSeconds: hop * step,
      frames: kept.map((t) =>
        Array.from(frameAmplitudes(frames, t).subarray(0, PLOTTED_PARTIALS), (a) =>
          rounded(Math.max(-100, decibelsFromGain(a / loudest)), 4),
        ),
      ),
    },
    confidence: fundamental.confidence,
  };
}
