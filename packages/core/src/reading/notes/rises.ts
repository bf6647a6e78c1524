import { partialMagnitudes } from '../../dsp/harmonics';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';

export const RISE_FRAME = 2048;
/** Time from one value of the rises to the next. */
export const RISE_HOP_SECONDS = 0.005;
const BANDS = 24;
const FROM_HZ = 60;
const TO_HZ = 8000;
/** What is under this does not rise. */
const FLOOR_DB = -50;
/** Rises are taken over so many hops to either side, and count for no more than this. */
const REACH = 4;
const MOST_DB = 12;

/** What becomes louder and softer over time. */
export interface Rises {
  hopSeconds: number;
  count: number;
  /** Of every band, how much louder it becomes around each frame, dB. */
  bands: Float64Array[];
}

/** Rises of the whole sound, band by band. */
export function risesOf(mono: Float64Array, sampleRateHz: number): Rises {
  const hop = Math.round(RISE_HOP_SECONDS * sampleRateHz);
  const count = Math.floor(mono.length / hop);
  const spectrum = createFrameSpectrum(RISE_FRAME);
  const top = Math.min(TO_HZ, 0.45 * sampleRateHz);
  const edges = Array.from({ length: BANDS + 1 }, (_, b) =>
    Math.round((FROM_HZ * (top / FROM_HZ) ** (b / BANDS) * RISE_FRAME) / sampleRateHz),
  );
  const powers = Array.from({ length: BANDS }, () => new Float64Array(count));
  let loudest = 0;
  for (let frame = 0; frame < count; frame++) {
    spectrum.transform(mono, frame * hop - RISE_FRAME / 2);
    let whole = 0;
    powers.forEach((band, b) => {
      for (let k = edges[b]; k < Math.max(edges[b] + 1, edges[b + 1]); k++)
        band[frame] += spectrum.real[k] ** 2 + spectrum.imaginary[k] ** 2;
      whole += band[frame];
    });
    loudest = Math.max(loudest, whole);
  }
  const floor = loudest * 10 ** (FLOOR_DB / 10) + 1e-30;
  return {
    hopSeconds: hop / sampleRateHz,
    count,
    bands: powers.map((band) => risesAround(band.map((power) => 10 * Math.log10(power + floor)))),
  };
}

const PARTIALS = 8;
const PERIODS = 3;
const LEAST_WINDOW_SECONDS = 0.03;
const TONAL_FLOOR_DB = -40;

/**
 * Of a line that hits are beside, how much louder each partial of the note that sounds becomes, less what is
 * halfway between them, where only the hits are.
 *
 * @param hzAt frequency of the line at a time; NaN where none sounds
 */
export function tonalRises(mono: Float64Array, sampleRateHz: number, hzAt: (seconds: number) => number): Rises {
  const hop = Math.round(RISE_HOP_SECONDS * sampleRateHz);
  const hopSeconds = hop / sampleRateHz;
  const count = Math.floor(mono.length / hop);
  const cached = new Map<number, { hz: number; levels: Float64Array }>();
  const levelsAt = (frame: number, hz: number) => {
    const known = cached.get(frame);
    if (known?.hz === hz) return known.levels;
    const levels = tonalLevels(frame, hz);
    cached.set(frame, { hz, levels });
    return levels;
  };
  const tonalLevels = (frame: number, hz: number) => {
    const length = Math.round(Math.max(LEAST_WINDOW_SECONDS, PERIODS / hz) * sampleRateHz);
    const start = Math.max(0, Math.min(mono.length - length, frame * hop - (length >> 1)));
    const halves = partialMagnitudes(mono, start, length, (Math.PI * hz) / sampleRateHz, 2 * PARTIALS + 1);
    return Float64Array.from({ length: PARTIALS }, (_, n) =>
      Math.max(0, (halves[2 * n + 1] ?? 0) - ((halves[2 * n] ?? 0) + (halves[2 * n + 2] ?? 0)) / 2),
    );
  };
  const pairs: ({ before: Float64Array; after: Float64Array } | undefined)[] = [];
  let loudest = 0;
  for (let frame = 0; frame < count; frame++) {
    const hz = hzAt(frame * hopSeconds);
    if (!(hz > 0)) {
      pairs.push(undefined);
      continue;
    }
    const pair = { before: levelsAt(frame - REACH, hz), after: levelsAt(frame + REACH, hz) };
    pairs.push(pair);
    loudest = Math.max(loudest, ...pair.after);
  }
  const floor = loudest * 10 ** (TONAL_FLOOR_DB / 20) + 1e-9;
  const rise = (before: number, after: number) =>
    Math.max(-MOST_DB, Math.min(MOST_DB, 20 * Math.log10((after + floor) / (before + floor))));
  const bands = Array.from({ length: PARTIALS }, (_, n) =>
    Float64Array.from(pairs, (pair) => (pair ? rise(pair.before[n], pair.after[n]) : 0)),
  );
  return { hopSeconds, count, bands };
}

const risesAround = (decibels: Float64Array) =>
  decibels.map((_, i) =>
    i < REACH || i + REACH >= decibels.length
      ? 0
      : Math.max(-MOST_DB, Math.min(MOST_DB, decibels[i + REACH] - decibels[i - REACH])),
  );
