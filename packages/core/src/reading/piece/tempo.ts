import { mean } from '../statistics';

/** A tempo that is less sure is a guess. */
export const SURE_TEMPO = 0.4;

/** Tempo of a track: as set by hand, or as found when that is sure; null where there is none. */
export const trackBpm = (
  grid: { bpm: number } | null | undefined,
  found: { bpm: number | null; confidence: number } | null | undefined,
): number | null => grid?.bpm ?? (found && found.confidence >= SURE_TEMPO ? found.bpm : null);

/** A tempo with its beat grid. */
export interface Tempo {
  bpm: number;
  /** Time of the first beat. */
  beatSeconds: number;
  /** 0..1: how much of the onsets falls on the grid, against what chance would put there. */
  confidence: number;
  /** Other tempi that the onsets would bear, most likely first. */
  others: number[];
}

const MIN_BPM = 50;
const MAX_BPM = 220;
/**
 * Tempi are thought likely around this one, falling off by octaves: of a tempo and its double the one nearer
 * to it is told.
 */
const LIKELY_BPM = 112;
const LIKELY_OCTAVES = 0.6;
/** Beats over which periods are compared; many make the tempo exact. */
const BEATS = 16;
const MIN_BEATS = 4;
const OTHERS = 3;

/**
 * Tempo of a piece from its onset strength: the autocorrelation is summed over the multiples of every
 * candidate period, weighted by how likely tempi are (Ellis 2007, "Beat tracking by dynamic programming", 2),
 * and the best period is refined. Octave policy: of half and double the one nearer to 112 BPM, unless the
 * onsets clearly say otherwise. Undefined when nothing comes round.
 *
 * @param strength onset strength, one value every `hopSeconds`
 * @param leadSeconds time by which what its values stand for comes later
 */
export function findTempo(strength: Float64Array, hopSeconds: number, leadSeconds: number): Tempo | undefined {
  const span = strength.length * hopSeconds;
  if (span < (MIN_BEATS * 60) / MAX_BPM) return undefined;
  const level = mean(strength);
  const centred = strength.map((x) => x - level);
  const longest = Math.min(strength.length - 1, Math.ceil((BEATS * 60) / MIN_BPM / hopSeconds));
  const correlation = autocorrelation(centred, longest);
  if (!(correlation[0] > 0)) return undefined;

  const scored: { bpm: number; score: number }[] = [];
  for (let bpm = MIN_BPM; bpm <= MAX_BPM; bpm *= 1.003) {
    const octaves = Math.log2(bpm / LIKELY_BPM) / LIKELY_OCTAVES;
    scored.push({ bpm, score: combScore(correlation, 60 / bpm / hopSeconds) * Math.exp(-0.5 * octaves * octaves) });
  }
  const peaks = scored
    .filter(({ score }, i) => score > (scored[i - 1]?.score ?? 0) && score >= (scored[i + 1]?.score ?? 0))
    .sort((a, b) => b.score - a.score);
  const [best] = peaks;
  if (!best) return undefined;
  const bpm = amongThirds(correlation, refine(correlation, best.bpm, hopSeconds), hopSeconds);
  const beat = findBeat(strength, 60 / bpm / hopSeconds);
  return {
    bpm,
    beatSeconds: (beat.frame * hopSeconds + leadSeconds) % (60 / bpm),
    confidence: Math.max(0, Math.min(1, combScore(correlation, 60 / bpm / hopSeconds) * 2.2)) * beat.share,
    others: peaks.slice(1, 1 + OTHERS).map((peak) => refine(correlation, peak.bpm, hopSeconds)),
  };
}

/** Tempi whose beats meet every second or third time. */
const THIRDS = [3 / 2, 2 / 3, 4 / 3, 3 / 4];
const THIRDS_LEAD = 1.05;

/**
 * How likely a tempo is settles octaves only: of two whose beats do not divide one another, the onsets
 * decide.
 */
function amongThirds(correlation: Float64Array, bpm: number, hopSeconds: number): number {
  const scoreOf = (tempo: number) => combScore(correlation, 60 / tempo / hopSeconds);
  return THIRDS.map((factor) => factor * bpm)
    .filter((other) => other >= MIN_BPM && other <= MAX_BPM)
    .map((other) => refine(correlation, other, hopSeconds))
    .reduce((best, other) => (scoreOf(other) > THIRDS_LEAD * scoreOf(best) ? other : best), bpm);
}

/** Against the value at 0. */
function autocorrelation(values: Float64Array, longest: number): Float64Array {
  const result = new Float64Array(longest + 1);
  for (let lag = 0; lag <= longest; lag++) {
    let sum = 0;
    for (let i = lag; i < values.length; i++) sum += values[i] * values[i - lag];
    // Long lags see less of the piece, which is not their fault.
    result[lag] = sum / (values.length - lag);
  }
  return result.map((value) => value / result[0]);
}

/** Mean of the correlation at a period and its multiples. */
function combScore(correlation: Float64Array, period: number): number {
  let sum = 0;
  let count = 0;
  for (let beat = 1; beat <= BEATS && beat * period < correlation.length - 2; beat++) {
    sum += readAt(correlation, beat * period);
    count++;
  }
  return count > 0 ? sum / count : 0;
}

/** Peaks are a few hops wide: the best of the nearest values, between them a straight line. */
function readAt(values: Float64Array, at: number): number {
  const whole = Math.floor(at);
  return values[whole] + (at - whole) * (values[whole + 1] - values[whole]);
}

/** The tempo within 2 % at which the multiples agree best. */
function refine(correlation: Float64Array, guess: number, hopSeconds: number): number {
  let best = guess;
  let most = -Infinity;
  for (let share = -0.02; share <= 0.02; share += 0.0002) {
    const bpm = guess * (1 + share);
    const score = combScore(correlation, 60 / bpm / hopSeconds);
    if (score > most) {
      most = score;
      best = bpm;
    }
  }
  return best;
}

const BEAT_PARTS = 48;

/** Where in the period the beats fall, and how far they stand out there. */
function findBeat(strength: Float64Array, period: number): { frame: number; share: number } {
  const parts = new Float64Array(BEAT_PARTS);
  for (let i = 0; i < strength.length; i++) {
    const turns = i / period;
    parts[Math.floor((turns - Math.floor(turns)) * BEAT_PARTS)] += strength[i];
  }
  let best = 0;
  const around = (p: number) => parts[(p + BEAT_PARTS - 1) % BEAT_PARTS] + 2 * parts[p] + parts[(p + 1) % BEAT_PARTS];
  for (let p = 1; p < BEAT_PARTS; p++) if (around(p) > around(best)) best = p;
  const total = parts.reduce((a, b) => a + b, 0);
  const standout = total > 0 ? (BEAT_PARTS * around(best)) / 4 / total : 0;
  return { frame: ((best + 0.5) / BEAT_PARTS) * period, share: Math.min(1, standout / 3) };
}
