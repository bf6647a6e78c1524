import { leastSquares } from '../../dsp/leastSquares';
import { type Model, limit, plainEnvelope } from './envelopeModel';
import type { Waveform } from './levelContour';

/** Longer rises are as plain from the level alone. */
const LONGEST_ATTACK_SECONDS = 0.06;
/** Of the power at the rise, that may stay unexplained where one period is like the next. */
const MOST_UNLIKE = 0.05;
/** What has all but ended a period later says nothing of how it rose. */
const LEAST_LATER = 0.03;
const MOST_POINTS = 400;
const LEAST_LEAD_SECONDS = 0.006;
const ATTACKS = 14;
const SHORTEST_SECONDS = 3e-4;
const ONSET_STEP_SECONDS = 5e-4;
const SEARCH = { differences: [2e-5, 0.002], mostStep: [0.005, 0.4], mostIterations: 15 };

/**
 * Onset and attack of a tone, from its waveform: what sounds while it rises is what sounds whole periods
 * later, times the ratio of the envelope at both. A level in windows of a period says little of a rise that
 * is shorter than one, and what it says depends on where in its period the waveform begins; this does not.
 * Gives the model as it was where one period is not like the next.
 */
export function riseByWaveform(model: Model, waveform: Waveform): Model {
  if (model.attack > LONGEST_ATTACK_SECONDS) return model;
  const found = riseByPeriod(model, waveform);
  if (found) return found;
  // A tone that slides, or goes on to another note, has another period here.
  const periodSeconds = periodAfter(model.onset + model.attack, waveform);
  return (periodSeconds && riseByPeriod(model, { ...waveform, periodSeconds })) || model;
}

function riseByPeriod(model: Model, waveform: Waveform): Model | undefined {
  const { periodSeconds, sampleRateHz } = waveform;
  const full = model.onset + model.attack;
  const from = model.onset - Math.max(LEAST_LEAD_SECONDS, periodSeconds / 2);
  // One period that is whole by then stands for all before it.
  const whole = full + periodSeconds / 2;
  const count = Math.min(MOST_POINTS, Math.ceil((whole - from) * sampleRateHz));
  const seconds = Float64Array.from({ length: count }, (_, i) => from + ((whole - from) * i) / count);
  const later = seconds.map((at) => at + Math.ceil((whole - at) / periodSeconds) * periodSeconds);
  if (later.some((at) => plainEnvelope(model, at) < LEAST_LATER)) return undefined;
  // What falls after the rise is known from the level.
  const fallen = seconds.map((at, i) => plainEnvelope(model, Math.max(at, full)) / plainEnvelope(model, later[i]));
  const sounds = waveform.channels.map((channel) => ({
    heard: seconds.map((at) => sampleAt(channel, waveform, at)),
    risen: later.map((at, i) => fallen[i] * sampleAt(channel, waveform, at)),
  }));
  const residuals = ([onset, logAttack]: Float64Array, out: Float64Array) => {
    const attack = limit(Math.exp(logAttack));
    if (onset < from || onset + attack > whole + periodSeconds / 2) return false;
    for (let c = 0; c < sounds.length; c++) {
      const { heard, risen } = sounds[c];
      for (let i = 0; i < count; i++) {
        const rise = Math.max(0, Math.min(1, (seconds[i] - onset) / attack));
        out[c * count + i] = heard[i] - rise * risen[i];
      }
    }
    return true;
  };
  const left = new Float64Array(count * sounds.length);
  let start: Float64Array | undefined;
  let least = Infinity;
  for (const point of startingPoints(model, from, whole)) {
    if (!residuals(point, left)) continue;
    const power = powerOf(left);
    if (power < least) [start, least] = [point, power];
  }
  if (!start) return undefined;
  const { point, cost } = leastSquares(residuals, start, { ...SEARCH, count: left.length });
  if (cost > MOST_UNLIKE * sounds.reduce((sum, { heard }) => sum + powerOf(heard), 0)) return undefined;
  return { ...model, onset: point[0], attack: limit(Math.exp(point[1])) };
}

/** Periods that are looked for are within an octave of the tone's own. */
const PERIOD_RATIOS = { from: 0.5, to: 2 };
/** The shortest of those that are as good. */
const AS_ALIKE = 0.03;

/**
 * The period just after a time, by the normalised correlation of two stretches that follow one another;
 * undefined where nothing comes again.
 */
function periodAfter(seconds: number, waveform: Waveform): number | undefined {
  const { channels, sampleRateHz, periodSeconds, fromSeconds } = waveform;
  const first = Math.round((seconds + periodSeconds / 2 - fromSeconds) * sampleRateHz);
  const lags = { from: PERIOD_RATIOS.from * periodSeconds, to: PERIOD_RATIOS.to * periodSeconds };
  const [shortest, longest] = [lags.from, lags.to].map((lag) => Math.round(lag * sampleRateHz));
  const alike = new Float64Array(longest - shortest + 1);
  let here = 0;
  const there = new Float64Array(alike.length);
  for (const channel of channels) {
    const stretch = Float64Array.from({ length: 2 * longest }, (_, k) => channel[first + k] ?? 0);
    const squares = stretch.map((x) => x * x);
    here += sumOf(squares, 0, longest);
    for (let i = 0, power = sumOf(squares, shortest, shortest + longest); i < alike.length; i++) {
      let product = 0;
      for (let k = 0; k < longest; k++) product += stretch[k] * stretch[k + shortest + i];
      alike[i] += product;
      there[i] += power;
      power += (squares[shortest + i + longest] ?? 0) - squares[shortest + i];
    }
  }
  for (let i = 0; i < alike.length; i++) alike[i] /= Math.sqrt(here * Math.max(0, there[i])) || 1;
  const best = alike.reduce((a, b) => Math.max(a, b), 0);
  const isPeak = (i: number) => alike[i] >= (alike[i - 1] ?? -1) && alike[i] >= (alike[i + 1] ?? -1);
  const found = alike.findIndex((value, i) => value > best - AS_ALIKE && isPeak(i));
  return best > 0 && found >= 0 ? (shortest + found) / sampleRateHz : undefined;
}

/** Every onset with every attack that may be. */
function startingPoints({ attack }: Model, from: number, whole: number): Float64Array[] {
  const longest = Math.max(3 * attack, whole - from);
  const onsets = Math.ceil((whole - from) / ONSET_STEP_SECONDS);
  return Array.from({ length: ATTACKS }, (_, a) =>
    Math.log(SHORTEST_SECONDS * (longest / SHORTEST_SECONDS) ** (a / (ATTACKS - 1))),
  ).flatMap((logAttack) =>
    Array.from({ length: onsets }, (_, i) => Float64Array.of(from + i * ONSET_STEP_SECONDS, logAttack)),
  );
}

function sumOf(values: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let i = from; i < to; i++) sum += values[i];
  return sum;
}

function powerOf(values: Float64Array): number {
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += values[i] * values[i];
  return sum;
}

/** A sample between samples, by a cubic through the four around it (Catmull & Rom 1974); 0 outside. */
function sampleAt(channel: ArrayLike<number>, { sampleRateHz, fromSeconds }: Waveform, seconds: number): number {
  const place = (seconds - fromSeconds) * sampleRateHz;
  const i = Math.floor(place);
  if (i < 1 || i + 2 >= channel.length) return i === 0 || i + 2 === channel.length ? channel[i] : 0;
  const t = place - i;
  const [a, b, c, d] = [channel[i - 1], channel[i], channel[i + 1], channel[i + 2]];
  return b + 0.5 * t * (c - a + t * (2 * a - 5 * b + 4 * c - d + t * (3 * (b - c) + d - a)));
}
