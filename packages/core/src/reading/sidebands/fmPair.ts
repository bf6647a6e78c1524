import { type Line, type Lines } from '../spectra/lines';
import { hann } from '../../dsp/windows';

/** Two sines, one of which moves the phase of the other. */
export interface FmPair {
  carrierHz: number;
  /** Frequency of the modulator against the carrier's. */
  ratio: number;
  /** Radians of phase over time. */
  index: { seconds: number; radians: number }[];
  /** Share of the modulator's own output that moves its phase, radians. */
  feedback: number;
  /** Share of the power that the pair does not explain. */
  unexplained: number;
}

/** Sidebands looked at on either side. */
const MOST_ORDER = 12;
const MIN_HZ = 20;
/** Strongest lines that the carrier and its neighbours are looked for among. */
const TRIED_LINES = 14;
/** Pairs whose levels are looked at: every sideband is a carrier whose lines fit as well. */
const SHORTLIST = 24;
const LEAST_LINES = 4;
const MAX_RATIO = 8;
/** Frames that the index is told in. */
const FRAMES = 8;
const SHORTEST_FRAME_SECONDS = 0.06;
const MOST_UNEXPLAINED = 0.05;
/** Less, weighted by how loud it is meanwhile, is next to one sine. */
const LEAST_INDEX = 0.15;

const INDICES = Array.from({ length: 60 }, (_, i) => 0.05 * 1.085 ** i).filter((index) => index <= 6.5);
const FEEDBACKS = [0, 0.3, 0.6, 0.9];
const TURN_POINTS = 64;

interface Sidebands {
  index: number;
  feedback: number;
  /** Amplitudes of orders −MOST_ORDER … MOST_ORDER. */
  amplitudes: Float64Array;
}

let tables: Sidebands[] | undefined;

/**
 * Levels of the sidebands of e^{j·I·m(φ)} for every index and feedback that is tried: the Fourier
 * coefficients over one turn of the modulator, which without feedback are Bessel functions (Chowning 1973).
 */
const sidebandTables = () =>
  (tables ??= FEEDBACKS.flatMap((feedback) => {
    const modulator = turnOf(feedback);
    return INDICES.map((index) => ({ index, feedback, amplitudes: coefficients(modulator, index) }));
  }));

/** One turn of a sine whose output moves its own phase, by iteration. */
function turnOf(feedback: number): Float64Array {
  return Float64Array.from({ length: TURN_POINTS }, (_, i) => {
    const phase = (2 * Math.PI * i) / TURN_POINTS;
    let value = Math.sin(phase);
    for (let pass = 0; pass < 30; pass++) value = 0.5 * value + 0.5 * Math.sin(phase + feedback * value);
    return value;
  });
}

function coefficients(modulator: Float64Array, index: number): Float64Array {
  return Float64Array.from({ length: 2 * MOST_ORDER + 1 }, (_, i) => {
    const order = i - MOST_ORDER;
    let [re, im] = [0, 0];
    modulator.forEach((m, k) => {
      const angle = index * m - (2 * Math.PI * order * k) / TURN_POINTS;
      re += Math.cos(angle);
      im += Math.sin(angle);
    });
    return Math.hypot(re, im) / TURN_POINTS;
  });
}

/**
 * A carrier and a modulator whose sidebands are the lines of a tone. Carriers are strong lines, modulators
 * the distances between lines (or their sums, where a sideband is folded back at 0 Hz); those that name most
 * lines and few places without are tried by how loud the sidebands should be, frame by frame, since the index
 * falls. Undefined where no pair explains nearly all of the power.
 */
export function findFmPair(
  signal: Float64Array,
  sampleRateHz: number,
  { lines, resolutionHz }: Lines,
  [fromSeconds, toSeconds]: readonly [number, number],
): FmPair | undefined {
  const strongest = [...lines].sort((a, b) => b.levelDb - a.levelDb).slice(0, TRIED_LINES);
  if (strongest.length < LEAST_LINES) return undefined;
  const candidates = strongest.flatMap(({ hz: carrierHz }) =>
    strongest.flatMap(({ hz }) =>
      [Math.abs(hz - carrierHz), hz + carrierHz, Math.abs(hz - carrierHz) / 2]
        .filter((modulatorHz) => modulatorHz > MIN_HZ && modulatorHz < MAX_RATIO * carrierHz)
        .map((modulatorHz) => ({ carrierHz, modulatorHz, score: named(lines, carrierHz, modulatorHz, resolutionHz) })),
    ),
  );
  const shortlist = withoutTwins(
    candidates.sort((a, b) => b.score - a.score),
    resolutionHz,
  ).slice(0, SHORTLIST);
  let best: FmPair | undefined;
  for (const { carrierHz, modulatorHz } of shortlist) {
    const refined = refine(lines, carrierHz, modulatorHz, resolutionHz);
    const outside = unnamedShare(lines, refined, resolutionHz);
    // Less than that cannot be left, however well the levels fit.
    if (outside >= (best?.unexplained ?? MOST_UNEXPLAINED)) continue;
    const pair = fitPair(signal, sampleRateHz, { ...refined, outside }, resolutionHz, [fromSeconds, toSeconds]);
    if (pair && (!best || pair.unexplained < best.unexplained)) best = pair;
  }
  return best && best.unexplained < MOST_UNEXPLAINED ? best : undefined;
}

interface Candidate {
  carrierHz: number;
  modulatorHz: number;
  score: number;
}

function withoutTwins(candidates: readonly Candidate[], resolutionHz: number): Candidate[] {
  const kept: Candidate[] = [];
  for (const one of candidates) {
    const isTwin = kept.some(
      (other) =>
        Math.abs(other.carrierHz - one.carrierHz) < resolutionHz / 2 &&
        Math.abs(other.modulatorHz - one.modulatorHz) < resolutionHz / 2,
    );
    if (!isTwin) kept.push(one);
    if (kept.length >= SHORTLIST) break;
  }
  return kept;
}

/** How much a line counts: by how far it stands over the softest. */
const worth = ({ levelDb }: Line) => Math.max(0, levelDb + 45);

/** Orders of the sideband next to a frequency, straight or folded back at 0 Hz. */
function orderOf(hz: number, carrierHz: number, modulatorHz: number): { order: number; offHz: number } {
  const straight = Math.round((hz - carrierHz) / modulatorHz);
  const folded = -Math.round((hz + carrierHz) / modulatorHz);
  const offStraight = hz - (carrierHz + straight * modulatorHz);
  const offFolded = hz + (carrierHz + folded * modulatorHz);
  return Math.abs(offStraight) <= Math.abs(offFolded)
    ? { order: straight, offHz: offStraight }
    : { order: folded, offHz: offFolded };
}

const TOLERANCE = 0.2;

/** Share of the lines that are sidebands of a pair, less what is by chance. */
function named(lines: readonly Line[], carrierHz: number, modulatorHz: number, resolutionHz: number): number {
  const tolerance = TOLERANCE * resolutionHz;
  let all = 0;
  let fitting = 0;
  for (const line of lines) {
    const { order, offHz } = orderOf(line.hz, carrierHz, modulatorHz);
    all += worth(line);
    if (Math.abs(order) <= MOST_ORDER && Math.abs(offHz) < tolerance) fitting += worth(line);
  }
  // Two series of places, straight and folded, a modulator's frequency apart.
  return fitting / all - Math.min(1, (4 * tolerance) / modulatorHz);
}

/** Carrier and modulator through all lines that they name, by least squares weighted by power. */
function refine(lines: readonly Line[], carrierHz: number, modulatorHz: number, resolutionHz: number) {
  let [w, wk, wkk, wf, wkf] = [0, 0, 0, 0, 0];
  for (const { hz, levelDb } of lines) {
    const { order, offHz } = orderOf(hz, carrierHz, modulatorHz);
    if (Math.abs(order) > MOST_ORDER || Math.abs(offHz) > TOLERANCE * resolutionHz) continue;
    const signed = carrierHz + order * modulatorHz < 0 ? -hz : hz;
    const weight = 10 ** (levelDb / 20);
    w += weight;
    wk += weight * order;
    wkk += weight * order * order;
    wf += weight * signed;
    wkf += weight * order * signed;
  }
  const spread = w * wkk - wk * wk;
  if (!(spread > 1e-9)) return { carrierHz, modulatorHz };
  const step = (w * wkf - wk * wf) / spread;
  return { carrierHz: (wf - step * wk) / w, modulatorHz: step };
}

function fitPair(
  signal: Float64Array,
  sampleRateHz: number,
  { carrierHz, modulatorHz, outside }: { carrierHz: number; modulatorHz: number; outside: number },
  resolutionHz: number,
  [fromSeconds, toSeconds]: readonly [number, number],
): FmPair | undefined {
  const orders = Array.from({ length: 2 * MOST_ORDER + 1 }, (_, i) => i - MOST_ORDER);
  const places = orders.map((order) => Math.abs(carrierHz + order * modulatorHz));
  // Places that lie on one another tell nothing apart: such a tone is harmonic.
  const usable = places.map((hz, i) => hz > MIN_HZ && hz < 0.45 * sampleRateHz && isAlone(places, i, resolutionHz));
  const frameSeconds = Math.max(SHORTEST_FRAME_SECONDS, 6 / Math.min(carrierHz, modulatorHz, closest(places, usable)));
  const span = toSeconds - fromSeconds;
  if (span < frameSeconds) return undefined;
  const hop = Math.max((span - frameSeconds) / (FRAMES - 1), frameSeconds / 4);
  const frames: { seconds: number; levels: Float64Array; power: number }[] = [];
  for (let start = fromSeconds; start + frameSeconds <= toSeconds + 1e-6; start += hop) {
    const levels = levelsAt(signal, sampleRateHz, start, frameSeconds, places, usable);
    frames.push({ seconds: start + frameSeconds / 2, levels, power: levels.reduce((sum, a) => sum + a * a, 0) });
  }
  const loudest = Math.max(...frames.map(({ power }) => power));
  const heard = frames.filter(({ power }) => power > 1e-4 * loudest);
  if (heard.length === 0) return undefined;
  const whole = heard.reduce((sum, { power }) => sum + power, 0);
  let best: { feedback: number; error: number; index: number[] } | undefined;
  for (const feedback of FEEDBACKS) {
    const fits = heard.map(({ levels, power }) => bestIndex(levels, power, usable, feedback));
    const error = fits.reduce((sum, fit, i) => sum + fit.error * heard[i].power, 0) / whole;
    // Feedback is only told where it explains clearly more.
    if (!best || error < 0.7 * best.error) best = { feedback, error, index: fits.map(({ index }) => index) };
  }
  const found = best!;
  const heardIndex = found.index.reduce((sum, index, i) => sum + (index * heard[i].power) / whole, 0);
  if (heardIndex < LEAST_INDEX) return undefined;
  return {
    carrierHz,
    ratio: modulatorHz / carrierHz,
    index: found.index.map((radians, i) => ({ seconds: heard[i].seconds, radians })),
    feedback: found.feedback,
    unexplained: outside + (1 - outside) * found.error,
  };
}

function isAlone(places: readonly number[], i: number, resolutionHz: number): boolean {
  return places.every((other, k) => k === i || Math.abs(other - places[i]) > 0.5 * resolutionHz);
}

function closest(places: readonly number[], usable: readonly boolean[]): number {
  const sorted = places.filter((_, i) => usable[i]).sort((a, b) => a - b);
  return sorted.reduce((least, hz, i) => (i > 0 ? Math.min(least, Math.max(8, hz - sorted[i - 1])) : least), Infinity);
}

/** Share of the power of lines that are no sidebands of the pair. */
function unnamedShare(
  lines: readonly Line[],
  { carrierHz, modulatorHz }: { carrierHz: number; modulatorHz: number },
  resolutionHz: number,
): number {
  let [all, outside] = [0, 0];
  for (const { hz, levelDb } of lines) {
    const power = 10 ** (levelDb / 10);
    const { order, offHz } = orderOf(hz, carrierHz, modulatorHz);
    all += power;
    if (Math.abs(order) > MOST_ORDER || Math.abs(offHz) > TOLERANCE * resolutionHz) outside += power;
  }
  return outside / all;
}

function levelsAt(
  signal: Float64Array,
  sampleRateHz: number,
  startSeconds: number,
  lengthSeconds: number,
  places: readonly number[],
  usable: readonly boolean[],
): Float64Array {
  const from = Math.round(startSeconds * sampleRateHz);
  const frame = hann(Math.round(lengthSeconds * sampleRateHz)).map((w, i) => w * (signal[from + i] ?? 0));
  return Float64Array.from(places, (hz, k) =>
    usable[k] ? (4 * magnitudeAt(frame, (2 * Math.PI * hz) / sampleRateHz)) / frame.length : 0,
  );
}

/** Magnitude of the Fourier transform at one frequency, in radians a sample (Goertzel 1958). */
function magnitudeAt(frame: Float64Array, omega: number): number {
  const twice = 2 * Math.cos(omega);
  let [last, before] = [0, 0];
  for (let i = 0; i < frame.length; i++) {
    const next = frame[i] + twice * last - before;
    before = last;
    last = next;
  }
  return Math.sqrt(Math.max(0, last * last + before * before - twice * last * before));
}

/** The index whose sidebands are most like the levels, with the share of their power that it leaves. */
function bestIndex(levels: Float64Array, power: number, usable: readonly boolean[], feedback: number) {
  let best = { index: 0, error: Infinity };
  for (const table of sidebandTables()) {
    if (table.feedback !== feedback) continue;
    let [product, own] = [0, 0];
    table.amplitudes.forEach((a, k) => {
      if (!usable[k]) return;
      product += a * levels[k];
      own += a * a;
    });
    // What is left of the levels by the best gain of the table's.
    const error = 1 - (product * product) / (own * power + 1e-30);
    if (error < best.error) best = { index: table.index, error };
  }
  return best;
}
