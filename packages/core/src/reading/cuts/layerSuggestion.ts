import { type FrameSpectrum, createFrameSpectrum } from '../../dsp/frameSpectrum';
import { formatValue } from '../../parameters/format';
import { type Audio, toMono } from '../audio';
import type { Reading } from '../schema';

export type LayerSuggestion = Reading['layers'][number];

/** Octave bands from here up. */
const LOWEST_HZ = 30;
const BANDS = 9;
/** Lows need long frames, and attacks short ones. */
const FRAMES = { low: 4096, high: 1024, fromHz: 900 };
const HOP_SECONDS = 0.01;
/** What a band does later tells no other layer. */
const MOST_SECONDS = 4;
/** A band this far under the loudest is nothing that a layer would be made for. */
const LEAST_DB = -42;
const FALL_DB = 15;
const FULL_DB = 3;
const SHORT_SECONDS = 0.13;
/** What is shorter is no more than the step of a note that begins at once. */
const STEP_SECONDS = 0.015;
/** An attack is over in so small a share of the time that the body takes, and of that of the band below. */
const SHORT_SHARE = 0.35;
const SUB_TOP_HZ = 130;
/** A fundamental that leads the next partial by more than a saw's by this was put there. */
const SUB_LEADS_DB = 9;
const AIR_FROM_HZ = 5000;
const WIDE_DB = -14;
const NARROW_DB = -24;

interface Band {
  fromHz: number;
  toHz: number;
  /** Peak, dB against the loudest band. */
  levelDb: number;
  /** From when it is up until it has fallen for good. */
  fallSeconds: number;
  widthDb: number | undefined;
}

/**
 * How many layers would explain a note, by what its octave bands do: an attack that is over long before the
 * body, a sub that is narrow under a wide body or leads it, air that is noise or wide over a narrow body
 * (common practice; thresholds our own). The body is always there.
 *
 * @param fromSeconds onset of the note
 */
export function suggestLayers(
  audio: Audio,
  { pitch, partials, noise, width }: Reading['traits'],
  fromSeconds: number,
): LayerSuggestion[] {
  const bands = bandsOf(audio, width.bands, fromSeconds);
  if (bands.length === 0) return [];
  const body = bands.reduce((a, b) => (b.levelDb > a.levelDb ? b : a));
  const layers: LayerSuggestion[] = [];

  const first = bands.findIndex((_, i) => i > 0 && isAttack(bands.slice(i), bands[i - 1], body));
  const short = first < 0 ? [] : bands.slice(first);
  const long = bands.filter((band) => !short.includes(band));
  const top = long[long.length - 1];
  const low = long.filter(({ toHz }) => toHz <= SUB_TOP_HZ);
  const rest = long.filter(({ toHz }) => toHz > SUB_TOP_HZ);

  const subReason = whySub(low, rest, pitch.f0Hz, partials.levelsDb);
  const air = rest.filter(({ fromHz }) => fromHz >= AIR_FROM_HZ);
  const airReason = whyAir(air, rest, noise);
  const subTop = subReason ? low[low.length - 1].toHz : undefined;
  const airFrom = airReason ? (air[0]?.fromHz ?? AIR_FROM_HZ) : undefined;
  if (subReason) layers.push({ name: 'sub', fromHz: low[0].fromHz, toHz: subTop!, reason: subReason });
  layers.push({
    name: 'body',
    fromHz: subTop ?? bands[0].fromHz,
    toHz: airFrom ?? top.toHz,
    reason: 'it holds most of the sound, and its bands come and go together',
  });
  if (short.length > 0) {
    const slowest = Math.max(...short.map(({ fallSeconds }) => fallSeconds));
    layers.push({
      name: 'attack',
      fromHz: short[0].fromHz,
      toHz: short[short.length - 1].toHz,
      reason: `it is ${FALL_DB} dB down after ${formatValue(slowest, 's')}, when the body goes on for ${formatValue(body.fallSeconds, 's')}`,
    });
  }
  if (airReason)
    layers.push({ name: 'air', fromHz: airFrom!, toHz: Math.max(top.toHz, 2 * airFrom!), reason: airReason });
  return layers;
}

/**
 * Whether bands are all over long before the body, and the lowest of them long before the one below it: a
 * low-pass that closes shortens bands little by little.
 */
function isAttack(bands: readonly Band[], below: Band, body: Band): boolean {
  const longest = Math.max(...bands.map(({ fallSeconds }) => fallSeconds));
  return (
    longest > STEP_SECONDS &&
    longest < SHORT_SECONDS &&
    longest < SHORT_SHARE * body.fallSeconds &&
    bands[0].fallSeconds < SHORT_SHARE * below.fallSeconds
  );
}

function whySub(low: readonly Band[], rest: readonly Band[], f0Hz: number | null, levelsDb: readonly number[]) {
  if (low.length === 0 || rest.length === 0 || f0Hz === null || f0Hz > SUB_TOP_HZ) return undefined;
  const loudest = rest.reduce((a, b) => (b.levelDb > a.levelDb ? b : a));
  const lowWidth = Math.max(...low.map(({ widthDb }) => widthDb ?? -Infinity));
  if (loudest.widthDb !== undefined && loudest.widthDb > WIDE_DB && lowWidth < NARROW_DB)
    return 'it stands in the middle under a body that is wide';
  // A saw's second partial is 6 dB under its first.
  const lead = (levelsDb[0] ?? 0) - (levelsDb[1] ?? 0) - 6;
  return lead > SUB_LEADS_DB
    ? `the fundamental is ${lead.toFixed(0)} dB stronger than that of a plain source`
    : undefined;
}

function whyAir(air: readonly Band[], rest: readonly Band[], noise: Reading['traits']['noise']) {
  if (noise.levelDb !== null && noise.attackOnly === false && (noise.centroidHz ?? 0) > AIR_FROM_HZ)
    return 'there is noise up there all along the note';
  const loudest = rest.reduce((a, b) => (b.levelDb > a.levelDb ? b : a), rest[0]);
  const wide = air.some(({ widthDb }) => widthDb !== undefined && widthDb > WIDE_DB);
  return wide && (loudest?.widthDb ?? 0) < NARROW_DB ? 'it is wide over a body in the middle' : undefined;
}

/** The bands that can be heard, lowest first. */
function bandsOf(audio: Audio, widths: Reading['traits']['width']['bands'], fromSeconds: number): Band[] {
  const contours = bandContours(audio, fromSeconds);
  const peaks = contours.map(({ levels }) => levels.reduce((a, b) => Math.max(a, b), -Infinity));
  const top = Math.max(...peaks);
  return contours.flatMap(({ fromHz, toHz, levels }, i): Band[] => {
    if (!(peaks[i] > top + LEAST_DB)) return [];
    // A steady level has its highest moment anywhere.
    const full = levels.findIndex((db) => db > peaks[i] - FULL_DB);
    const last = levels.findLastIndex((db) => db > peaks[i] - FALL_DB);
    const inside = widths.filter((band) => band.fromHz < toHz && band.toHz > fromHz);
    return [
      {
        fromHz,
        toHz,
        levelDb: peaks[i] - top,
        fallSeconds: (last - full) * HOP_SECONDS,
        widthDb: inside.length > 0 ? Math.max(...inside.map(({ widthDb }) => widthDb)) : undefined,
      },
    ];
  });
}

/** Levels of octave bands over time, dB, every hundredth of a second from the onset on. */
function bandContours(audio: Audio, fromSeconds: number) {
  const mono = toMono(audio);
  const { sampleRateHz } = audio;
  const highest = 0.45 * sampleRateHz;
  const bands = Array.from({ length: BANDS }, (_, i) => ({
    fromHz: LOWEST_HZ * 2 ** i,
    toHz: Math.min(highest, LOWEST_HZ * 2 ** (i + 1)),
  })).filter(({ fromHz }) => fromHz < highest);
  const seconds = Math.min(MOST_SECONDS, mono.length / sampleRateHz - fromSeconds);
  const count = Math.max(1, Math.floor(seconds / HOP_SECONDS));
  const contours = bands.map((band) => ({ ...band, levels: new Float64Array(count) }));
  for (const size of [FRAMES.low, FRAMES.high]) {
    const spectrum = createFrameSpectrum(size);
    const own = contours
      .filter(({ fromHz }) => fromHz < FRAMES.fromHz === (size === FRAMES.low))
      .map(({ fromHz, toHz, levels }) => {
        const first = Math.round((fromHz * size) / sampleRateHz);
        return { first, end: Math.max(Math.round((toHz * size) / sampleRateHz), first + 1), levels };
      });
    for (let frame = 0; frame < count; frame++) {
      const middle = Math.round((fromSeconds + frame * HOP_SECONDS) * sampleRateHz);
      spectrum.transform(mono, middle - size / 2);
      for (const { first, end, levels } of own) {
        levels[frame] = 10 * Math.log10(powerWithin(spectrum, first, end) / size / size + 1e-14);
      }
    }
  }
  return contours;
}

function powerWithin({ real, imaginary }: FrameSpectrum, first: number, end: number): number {
  let power = 0;
  for (let k = first; k < end; k++) power += real[k] * real[k] + imaginary[k] * imaginary[k];
  return power;
}
