import { soundingSpan } from '../../level/fittedContour';
import { measureBrightness } from '../../spectra/brightness';
import { fitSweep } from '../../spectra/cutoffCurve';
import { type FilterTrack, OPEN_HZ } from '../../spectra/filterTrack';
import type { Reading } from '../../schema';
import { median, quantile } from '../../statistics';
import { rounded, toSeries } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { NO_PITCH, OVERLAP } from '../doubts';
import { overlap } from '../../notes/overlap';
import { createNoise, fill, gainAt } from '../../evidenceSounds';
import { seriesAt } from '../../documentParts';

/**
 * Twice as many as a low-pass and its source have numbers (cutoff, slope, resonance, level): of fewer
 * partials any sum of sines is as good a reason.
 */
const LEAST_PARTIALS = 8;
/** A filter that stands still may as well be a darker source. */
const STILL = 0.6;

const NO_FILTER = 'few partials, or a sum of sines, do not tell of a filter';

const MIN_SWEEP_OCTAVES = 0.5;
const FRAME_PERIODS = 4;

const SMOOTHED_FRAMES = 3;

/** Octaves that are heard of a cutoff's way from one place to another. */
const heardOctaves = (fromHz: number, toHz: number) => Math.log2(Math.min(OPEN_HZ, toHz) / Math.min(OPEN_HZ, fromHz));

/**
 * First to last cutoff of the sounding part, when they are half an octave or more apart; the time to cover 90
 * % of it. Where the way is a fall or rise that slows down, its curve says where it began, which frames of
 * several periods cannot.
 */
function cutoffSweep(
  { seconds, cutoffHz }: FilterTrack,
  [from, to]: readonly [number, number],
  frameSeconds: number,
): Reading['traits']['brightness']['sweep'] {
  const inside = [...seconds.keys()].filter(
    (i) => seconds[i] >= from && seconds[i] <= to && Number.isFinite(cutoffHz[i]),
  );
  if (inside.length < 8) return null;
  // Single frames err, those over the onset most; medians of neighbours do not.
  const octaves = inside.map((_, k) =>
    Math.log2(median(inside.slice(Math.max(0, k - SMOOTHED_FRAMES), k + SMOOTHED_FRAMES + 1).map((i) => cutoffHz[i]))),
  );
  // A frame that reaches over the onset is of a later time than its middle.
  const whole = inside.filter((i) => seconds[i] >= from + frameSeconds / 2);
  const curve =
    whole.length >= 8
      ? fitSweep(
          whole.map((i) => seconds[i] - from),
          whole.map((i) => Math.log2(cutoffHz[i])),
        )
      : undefined;
  if (curve) {
    if (Math.abs(curve.range) < MIN_SWEEP_OCTAVES) return null;
    const arrived = Math.min(to - from, Math.LN10 * curve.timeConstant);
    const at = (t: number) => 2 ** (curve.rest + curve.range * Math.exp(-t / curve.timeConstant));
    if (Math.abs(heardOctaves(at(0), at(to - from))) < MIN_SWEEP_OCTAVES) return null;
    return { fromHz: rounded(at(0)), toHz: rounded(at(to - from)), seconds: rounded(arrived) };
  }
  const first = octaves[0];
  const last = median(octaves.slice(-Math.max(2, Math.floor(octaves.length / 12))));
  if (Math.abs(heardOctaves(2 ** first, 2 ** last)) < MIN_SWEEP_OCTAVES) return null;
  const arrived = octaves.findIndex((octave) => (octave - first) / (last - first) >= 0.9);
  const until = seconds[inside[arrived < 0 ? inside.length - 1 : arrived]];
  return { fromHz: rounded(2 ** first), toHz: rounded(2 ** last), seconds: rounded(until - from) };
}

export const brightness = {
  measure({ mono, sampleRateHz, filter, fitted, fundamental, notch, sidebands, sources, root }) {
    const { hopSeconds, centroidHz, meanHz } = measureBrightness(mono, sampleRateHz, fundamental?.f0Hz);
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
    // The lines of a pair that does not fit fall off as its index says, not as a filter would have it; a few
    // partials, or a sum of sines, say nothing of one.
    const areSines = sources?.parts.every(({ shape }) => shape === 'sine');
    if (!filter || !fundamental || sidebands.fm || areSines || filter.told < LEAST_PARTIALS) {
      const cutoffContour = { hopSeconds, values: [] };
      return { centroidHz: centroid, ...none, contour, cutoffContour, confidence: centroid === null ? 0 : 0.5 };
    }
    // A sub under the root has a level of its own, which no high-pass made.
    const isOfSub = sources !== undefined && sources.parts.length > 1 && (root?.multiple ?? 1) > 1;
    const highpass = isOfSub ? undefined : filter.highpass;
    const [from, to] = soundingSpan(fitted, Infinity);
    const heard = filter.cutoffHz.filter(
      (hz, i) => Number.isFinite(hz) && filter.seconds[i] >= from && filter.seconds[i] <= to,
    );
    const sweep = cutoffSweep(filter, [from, to], FRAME_PERIODS / fundamental.f0Hz);
    const middleHz = heard.length > 0 ? rounded(quantile(heard, 0.5)) : null;
    const partialHop = filter.seconds.length > 1 ? filter.seconds[1] - filter.seconds[0] : hopSeconds;
    return {
      centroidHz: centroid,
      cutoffHz: middleHz,
      slopeDbPerOctave: filter.slopeDbPerOctave,
      resonanceDb: rounded(filter.resonanceDb, 4),
      filterKind: highpass ? ((middleHz ?? 0) > OPEN_HZ ? 'highpass' : 'bandpass') : 'lowpass',
      highpassHz: highpass ? rounded(highpass.cutoffHz) : null,
      highpassSlopeDbPerOctave: highpass?.slopeDbPerOctave ?? null,
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
  },

  doubt: (reading) => {
    const { cutoffHz, sweep } = reading.traits.brightness;
    if (cutoffHz === null) return reading.traits.pitch.f0Hz === null ? NO_PITCH : NO_FILTER;
    if (overlap(reading)) return OVERLAP;
    const goesRound = reading.traits.motion.some(({ of }) => of === 'brightness');
    if (!sweep && !goesRound) return 'the brightness stands still: a darker source would sound the same as a filter';
    return 'the partials are not those of a plain source behind a low-pass';
  },

  evidence: {
    brightness(audio, { traits: { brightness, loudness } }) {
      const { cutoffContour, contour } = brightness;
      const line = cutoffContour.values.some((hz) => hz !== null) ? cutoffContour : contour;
      const noise = createNoise();
      const states = [0, 0, 0, 0];
      let hz = line.values.find((value) => value !== null) ?? 1000;
      return [
        fill(audio, (seconds) => {
          hz = seriesAt(line, seconds) ?? hz;
          const share = 1 - Math.exp((-2 * Math.PI * Math.min(hz, 0.45 * audio.sampleRateHz)) / audio.sampleRateHz);
          let x = noise();
          for (let i = 0; i < states.length; i++) x = states[i] += share * (x - states[i]);
          return gainAt(loudness.contour, seconds) * x;
        }),
      ];
    },
  },
} satisfies TraitDescriptor<'brightness'>;
