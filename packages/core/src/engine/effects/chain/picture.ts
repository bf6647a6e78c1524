import type { Effect, Shaper } from '../../../patch/schema';
import { RESPONSE_SAMPLES, gainsOf } from '../../filters/response';
import type { EffectKind } from '../../../parameters/effects';
import { createFrameSpectrum } from '../../../dsp/frameSpectrum';
import { beatsOfDivision } from '../../../parameters/division';
import { PATTERN_STEPS } from '../../../parameters/effects/ducker';
import { drawnAt } from '../../shaping/drawnLine';
import { compileSum } from '../../chains/sumChain';
import { curveTableOf } from '../../shaping/shaperCurves';
import { NO_RESOURCES } from '../../program/resources';
import { BLOCK_SAMPLES } from '../../sources/source';
import { compressedDb } from '../levels/compressor';
import { STEPS_A_BEAT, duckedShare } from '../levels/ducker';
import { type EffectOf, NOTHING_AROUND } from './effect';
import { createEffectChain } from './effectChain';
import { KNEE_DB, liftedDb } from '../levels/multiband';
import { tremoloTurn } from '../levels/tremolo';
import { vocoderBandGain, vocoderBandHz } from '../colour/vocoder';

/** What an effect does, to be drawn: worked out by running it, or from the very curve that it runs. */
export interface EffectPicture {
  /**
   * Gain in dB over octaves of 1 Hz; what becomes of a tone of one partial, dB over octaves of 1 Hz; output
   * over input, as samples or in dB; gain over a turn in cycles, or over a bar in beats; level in dB of a
   * click, or of a short tone, over seconds; samples of a sine over milliseconds.
   */
  of: 'response' | 'spectrum' | 'curve' | 'levels' | 'turn' | 'bar' | 'decay' | 'wave';
  points: { x: number; y: number }[];
  /**
   * Of an effect that does several things side by side, the name of each and its line; `points` are the first
   * one's.
   */
  parts?: { name: string; points: { x: number; y: number }[] }[];
}

const RESPONSE_RATE_HZ = 44100;
/** Echoes and rooms are drawn at a low rate: their lows die away alike. */
const DECAY_RATE_HZ = 11025;
const MOST_DECAY_SECONDS = 4;
const DECAY_STEP_SECONDS = 0.005;
export const DECAY_FLOOR_DB = -72;
const CURVE_POINTS = 160;
const LOWEST_DB = -60;
const BEATS_A_BAR = 4;
const TURNS = 2;
/** What effects that move partials are shown by, and the note that they follow. */
const TONE_HZ = 440;
export const SPECTRUM_FLOOR_DB = -84;
const SPECTRUM_STEP_OCTAVES = 0.02;
const WAVE_SAMPLES = 2 * BLOCK_SAMPLES;
export const WAVE_MS = (1000 * (WAVE_SAMPLES - 1)) / RESPONSE_RATE_HZ;
/** Grains are drawn of a tone of this length: a click would fall into few of them. */
const GRAIN_TONE_SECONDS = 0.1;

type PictureOf<K extends EffectKind> = (effect: EffectOf<K>, bpm: number) => EffectPicture;

const response = (effect: Effect, bpm: number): EffectPicture => ({
  of: 'response',
  points: gainPoints(responseOf(effect, bpm, RESPONSE_RATE_HZ, RESPONSE_SAMPLES)[0]),
});

const spectrum = (effect: Effect, bpm: number): EffectPicture => ({ of: 'spectrum', points: spectrumOf(effect, bpm) });

const decay = (effect: Effect, bpm: number): EffectPicture => ({ of: 'decay', points: decayOf(effect, bpm) });

/** Middle and side each by itself. */
function middleAndSide(effect: Effect, bpm: number): EffectPicture {
  const parts = ([1, -1] as const).map((sign) => {
    const [left, right] = responseOf(effect, bpm, RESPONSE_RATE_HZ, RESPONSE_SAMPLES, sign);
    const kept = left.map((x, i) => (x + sign * right[i]) / 2);
    return { name: sign === 1 ? 'middle' : 'side', points: gainPoints(kept) };
  });
  return { of: 'response', points: parts[0].points, parts };
}

/** How every kind of effect is drawn. */
const pictures: { readonly [K in EffectKind]: PictureOf<K> } = {
  equalizer: response,
  drive: (effect) => ({ of: 'curve', points: shaperCurve(effect) }),
  reducer: (effect, bpm) => ({ of: 'wave', points: waveOf(effect, bpm) }),
  compressor: ({ thresholdDb, ratio, kneeDb, makeUpDb, autoMakeUp }) => {
    const lift = makeUpDb - (autoMakeUp ? compressedDb(0, thresholdDb, ratio, kneeDb) / 2 : 0);
    return {
      of: 'levels',
      points: along(LOWEST_DB, 0, (x) => x + compressedDb(x, thresholdDb, ratio, kneeDb) + lift),
    };
  },
  multiband: (effect) => {
    const parts = (['mid', 'low', 'high'] as const).map((name) => ({ name, points: bandLevels(effect, name) }));
    return { of: 'levels', points: parts[0].points, parts };
  },
  limiter: ({ ceilingDb, driveDb }) => ({
    of: 'levels',
    points: along(LOWEST_DB, 0, (x) => Math.min(ceilingDb, x + driveDb)),
  }),
  chorus: response,
  delay: decay,
  reverb: decay,
  tremolo: (effect) => ({
    of: 'turn',
    points: along(0, TURNS, (x) => 1 - (effect.depth / 100) * (1 - tremoloTurn(effect, x))),
  }),
  flanger: response,
  phaser: response,
  widener: middleAndSide,
  ringModulator: spectrum,
  frequencyShifter: spectrum,
  pitchShifter: spectrum,
  vocoder: (effect) => ({ of: 'response', points: bandsOf(effect) }),
  vowelFilter: response,
  resonator: response,
  grainDelay: decay,
  ducker: (effect, bpm) => ({ of: 'bar', points: along(0, BEATS_A_BAR, (beats) => duckedGain(effect, beats, bpm)) }),
  cabinet: response,
  stereo: middleAndSide,
};

// A kind and an effect of that kind, which the compiler can only follow by a type of their own.
const pictureBy = <K extends EffectKind>(kind: K, effect: EffectOf<K>, bpm: number) => pictures[kind](effect, bpm);

export const effectPicture = (effect: Effect, bpm: number): EffectPicture => pictureBy(effect.kind, effect, bpm);

const gainPoints = (response: Float64Array) =>
  gainsOf(response, 1, RESPONSE_RATE_HZ).map(({ hz, db }) => ({ x: Math.log2(hz), y: db }));

/** Level of a band that comes out over that which goes in. */
function bandLevels(effect: Extract<Effect, { kind: 'multiband' }>, band: 'low' | 'mid' | 'high') {
  const moved = (x: number) =>
    compressedDb(x, effect[`${band}DownDb`], effect[`${band}DownRatio`], KNEE_DB) +
    liftedDb(x, effect[`${band}UpDb`], effect[`${band}UpRatio`]);
  return along(LOWEST_DB, 0, (x) => x + (effect.amount / 100) * moved(x) + effect[`${band}OutDb`]);
}

/** Output over input of a shaper, with its drive and lean. */
export function shaperCurve({
  curve,
  drawnCurve,
  driveDb,
  bias,
}: Pick<Shaper, 'curve' | 'drawnCurve' | 'driveDb' | 'bias'>): EffectPicture['points'] {
  const table = curveTableOf(curve, drawnCurve);
  const drive = 10 ** (driveDb / 20);
  const lean = bias / 100;
  return along(-1, 1, (x) => table.curve(drive * x + lean) - table.curve(lean));
}

const along = (from: number, to: number, y: (x: number) => number) =>
  Array.from({ length: CURVE_POINTS }, (_, i) => {
    const x = from + ((to - from) * i) / (CURVE_POINTS - 1);
    return { x, y: y(x) };
  });

/** An effect as it sounds, on. */
const alone = (effect: Effect): Effect => ({
  ...effect,
  on: true,
  // What it would play is not here.
  ...('sampleId' in effect ? { sampleId: null } : {}),
  ...('keyLayerId' in effect ? { keyLayerId: null } : {}),
});

/** Puts both sides through an effect, in place. */
function runAlone(effect: Effect, bpm: number, sampleRateHz: number, left: Float64Array, right: Float64Array): void {
  const { effects, values } = compileSum({ bpm, macros: [], routes: [] }, [alone(effect)], NO_RESOURCES);
  const chain = createEffectChain(sampleRateHz, [effect]);
  const around = { ...NOTHING_AROUND, noteHz: TONE_HZ };
  for (let at = 0; at + BLOCK_SAMPLES <= left.length; at += BLOCK_SAMPLES) {
    const [l, r] = [left, right].map((signal) => signal.subarray(at, at + BLOCK_SAMPLES));
    chain.run(effects, values, l, r, around);
  }
}

/** What becomes of a click on both sides, turned over on the right where the sign is −1. */
function responseOf(
  effect: Effect,
  bpm: number,
  sampleRateHz: number,
  samples: number,
  sign = 1,
): [Float64Array, Float64Array] {
  const left = new Float64Array(samples);
  const right = new Float64Array(samples);
  left[0] = 1;
  right[0] = sign;
  runAlone(effect, bpm, sampleRateHz, left, right);
  return [left, right];
}

/** Spectrum of what becomes of a sine on the left, once it has settled, dB against the sine. */
function spectrumOf(effect: Effect, bpm: number): EffectPicture['points'] {
  const left = Float64Array.from({ length: 2 * RESPONSE_SAMPLES }, (_, i) =>
    Math.sin((2 * Math.PI * TONE_HZ * i) / RESPONSE_RATE_HZ),
  );
  runAlone(effect, bpm, RESPONSE_RATE_HZ, left, left.slice());
  const { real, imaginary, transform } = createFrameSpectrum(RESPONSE_SAMPLES);
  transform(left, RESPONSE_SAMPLES);
  const points: EffectPicture['points'] = [];
  let highest = SPECTRUM_FLOOR_DB;
  for (let k = 8; k < real.length; k++) {
    const db = 20 * Math.log10((4 * Math.hypot(real[k], imaginary[k])) / RESPONSE_SAMPLES + 1e-9);
    highest = Math.max(highest, db);
    // Of bins that would be drawn on top of one another the strongest stands for all.
    const x = Math.log2((k * RESPONSE_RATE_HZ) / RESPONSE_SAMPLES);
    if (points.length > 0 && x - points[points.length - 1].x < SPECTRUM_STEP_OCTAVES) continue;
    points.push({ x, y: highest });
    highest = SPECTRUM_FLOOR_DB;
  }
  return points;
}

/** A turn or two of a sine, once the effect has settled. */
function waveOf(effect: Effect, bpm: number): EffectPicture['points'] {
  const left = Float64Array.from({ length: 2 * BLOCK_SAMPLES + WAVE_SAMPLES }, (_, i) =>
    Math.sin((2 * Math.PI * TONE_HZ * i) / RESPONSE_RATE_HZ),
  );
  runAlone(effect, bpm, RESPONSE_RATE_HZ, left, left.slice());
  return Array.from(left.subarray(2 * BLOCK_SAMPLES), (y, i) => ({ x: (1000 * i) / RESPONSE_RATE_HZ, y }));
}

/** Gain of a vocoder's bands over frequency, their powers added, where all of them are as loud. */
function bandsOf({ bands, formantSemitones, tiltDbPerOctave }: Extract<Effect, { kind: 'vocoder' }>) {
  const shift = 2 ** (formantSemitones / 12);
  const middle = Math.log2(vocoderBandHz(bands / 2 - 0.5, bands));
  return along(Math.log2(20), Math.log2(20000), (x) => {
    let power = 0;
    for (let band = 0; band < bands; band++) {
      const tilt = tiltDbPerOctave * (Math.log2(vocoderBandHz(band, bands)) - middle);
      power += 10 ** (tilt / 10) * vocoderBandGain(2 ** x / shift, band, bands) ** 2;
    }
    return 10 * Math.log10(power + 1e-9);
  });
}

/** Gain of a ducker as a share, so many beats after it began. Strokes of a layer are drawn on every beat. */
function duckedGain(effect: Extract<Effect, { kind: 'ducker' }>, beats: number, bpm: number): number {
  if (effect.key === 'drawn') {
    const place = (beats / beatsOfDivision(effect.division)!) % 1;
    return 10 ** ((-effect.depthDb * (1 - drawnAt(effect.curve, place))) / 20);
  }
  const step = Math.floor(beats * STEPS_A_BEAT);
  const isStruck = (n: number) => (effect.key === 'layer' ? n % STEPS_A_BEAT === 0 : effect.pattern[n % PATTERN_STEPS]);
  let last = step;
  while (last > step - PATTERN_STEPS && !isStruck((last + PATTERN_STEPS) % PATTERN_STEPS)) last--;
  if (last === step - PATTERN_STEPS && !isStruck(step)) return 1;
  const seconds = ((beats - last / STEPS_A_BEAT) * 60) / bpm;
  return 10 ** ((-effect.depthDb * duckedShare(seconds / effect.releaseSeconds, effect.bend / 100)) / 20);
}

/** Level of the wet signal over time, the louder of both sides, dB against its own highest. */
function decayOf(effect: Effect, bpm: number): { x: number; y: number }[] {
  const samples = BLOCK_SAMPLES * Math.floor((MOST_DECAY_SECONDS * DECAY_RATE_HZ) / BLOCK_SAMPLES);
  const left = new Float64Array(samples);
  left[0] = 1;
  if (effect.kind === 'grainDelay')
    for (let i = 0; i < GRAIN_TONE_SECONDS * DECAY_RATE_HZ; i++)
      left[i] = Math.sin((2 * Math.PI * TONE_HZ * i) / DECAY_RATE_HZ);
  const right = left.slice();
  runAlone({ ...effect, mix: 100 }, bpm, DECAY_RATE_HZ, left, right);
  const step = Math.round(DECAY_STEP_SECONDS * DECAY_RATE_HZ);
  const levels = Array.from({ length: Math.floor(samples / step) }, (_, i) => {
    let peak = 0;
    for (let k = i * step; k < (i + 1) * step; k++) peak = Math.max(peak, Math.abs(left[k]), Math.abs(right[k]));
    return peak;
  });
  const top = Math.max(...levels, 1e-9);
  const points = levels.map((peak, i) => ({
    x: i * DECAY_STEP_SECONDS,
    y: Math.max(DECAY_FLOOR_DB, 20 * Math.log10(peak / top + 1e-9)),
  }));
  const last = points.findLastIndex(({ y }) => y > DECAY_FLOOR_DB);
  return points.slice(0, Math.max(20, Math.ceil(1.1 * last)));
}
