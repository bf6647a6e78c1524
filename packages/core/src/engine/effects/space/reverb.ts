import { nextPowerOfTwo } from '../../../dsp/fft';
import { kernel, kernelNumbers } from '../../../dsp/kernel/kernel';
import { kernelSides } from '../../../dsp/kernel/sides';
import { hashedRandom } from '../../random';
import { integratorGain } from '../../filters/filter';
import { SECTION, section } from '../../filters/stateVariable';
import { stereoSections } from '../../filters/stereoSections';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { FIRST_REFLECTION_SECONDS, LAST_REFLECTION_SECONDS, createEarlyReflections } from './earlyReflections';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from '../chain/effect';

type Reverb = EffectOf<'reverb'>;

const LINES = kernel.LINES.value;
/** Samples that are sent round together: line after line is far faster than sample after sample. */
const MOST_TURN = kernel.MOST_TURN.value;
const WINDOW = kernel.WINDOW.value;

/** In the kernel: both sides, what comes out of a pair of lines, and what goes into it. */
const {
  left: insideL,
  right: insideR,
  dryLeft: lateL,
  dryRight: lateR,
  loopLeft: nextL,
  loopRight: nextR,
} = kernelSides;
const windows = kernelNumbers('windows', LINES * WINDOW);
const rows = kernelNumbers('rows', LINES * MOST_TURN);
const linePlaces = kernelNumbers('linePlaces', LINES);
const lineSteps = kernelNumbers('lineSteps', LINES);
const lineGains = kernelNumbers('lineGains', LINES);
const linePoles = kernelNumbers('linePoles', LINES);
const lineStates = kernelNumbers('lineStates', LINES);

/** Lengths of the lines at full size, spread by ratio, so that no two share their modes. */
const SHORTEST_SECONDS = 0.021;
const LONGEST_SECONDS = 0.093;
const MOST_SIZE = 2;
const MOST_PRE_DELAY_SECONDS = 0.3;
/** All-passes that a side goes through first, which fill the time before the lines do. */
const DIFFUSER_SECONDS = [0.0047, 0.0036, 0.0127, 0.0093];
const SIDES_APART = 1.07;
const MOST_DIFFUSION = 0.75;
/** Lines swing by so much, each at a rate of its own. */
const SWING_SECONDS = 0.0006;
const SWING_HZ = [0.31, 0.93] as const;
/** A changed size slides in by no more samples a sample than this. */
const SLIDE = 0.02;
/** At full damping the highs die away in a tenth of the time. */
const LEAST_HIGH_SHARE = 0.1;

/**
 * A feedback delay network: sixteen lines of lengths without common factors, mixed by a Hadamard matrix, each
 * with a one-pole low-pass whose gains give all frequencies of all lines the decay that is set (Jot & Chaigne
 * 1991); all-passes before it for the echo density (Schroeder 1962), slow swings of the lines against ringing
 * modes, and single reflections until the lines set in.
 */
export const reverb: EffectModel<Reverb> = {
  standsApart: true,
  tailSeconds: (effect) => 1.2 * effect.rt60Seconds + effect.preDelaySeconds + 0.4,
  create(sampleRateHz) {
    const lines = createLines(Math.ceil(MOST_SIZE * LONGEST_SECONDS * sampleRateHz) + 100);
    const fullLengths = lineLengths(sampleRateHz);
    const lengths = Float64Array.from(fullLengths);
    const mostBefore = MOST_PRE_DELAY_SECONDS + MOST_SIZE * LAST_REFLECTION_SECONDS;
    const preDelays = [0, 1].map(() => new DelayLine(Math.ceil(mostBefore * sampleRateHz) + 2 * BLOCK_SAMPLES));
    const early = createEarlyReflections(sampleRateHz);
    const [earlyL, earlyR] = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    /** A pair of lines each, for both sides. */
    const diffusers = DIFFUSER_SECONDS.map((seconds) =>
      [1, SIDES_APART].map((apart) => {
        const length = Math.round(seconds * sampleRateHz * apart);
        return { length, line: new DelayLine(length) };
      }),
    );
    const shortestDiffuser = Math.min(...diffusers.flat().map(({ length }) => length));
    const gains = new Float64Array(LINES);
    const poles = new Float64Array(LINES);
    const damped = new Float64Array(LINES);
    const swings = Float64Array.from({ length: LINES }, (_, k) => k / LINES);
    const swingTurns = Float64Array.from(
      { length: LINES },
      (_, k) => (SWING_HZ[0] + hashedRandom(7, k, 0) * (SWING_HZ[1] - SWING_HZ[0])) / sampleRateHz,
    );
    /** How far back each line is read at the start of a block, and how much further from sample to sample. */
    const distances = new Float64Array(LINES);
    const distanceSteps = new Float64Array(LINES);
    const tone = stereoSections.create(2);
    const cuts = new Float64Array(2 * SECTION);
    const width = new Ramp();
    let fresh = true;

    function tune({ slots }: EffectProgram<Reverb>, values: Float64Array): void {
      const rt60 = values[slots.rt60Seconds];
      const highShare = 1 - (values[slots.damping] / 100) * (1 - LEAST_HIGH_SHARE);
      const size = values[slots.size] / 100;
      const swing = (values[slots.modulation] / 100) * SWING_SECONDS * sampleRateHz;
      for (let k = 0; k < LINES; k++) {
        const wanted = size * fullLengths[k];
        const slide = SLIDE * BLOCK_SAMPLES;
        lengths[k] = fresh ? wanted : lengths[k] + Math.max(-slide, Math.min(slide, wanted - lengths[k]));
        if (fresh) distances[k] = lengths[k] + swing * roundTurn(swings[k]);
        swings[k] = (swings[k] + BLOCK_SAMPLES * swingTurns[k]) % 1;
        distanceSteps[k] = (lengths[k] + swing * roundTurn(swings[k]) - distances[k]) / BLOCK_SAMPLES;
        const lowGain = 10 ** ((-3 * lengths[k]) / sampleRateHz / rt60);
        const highGain = 10 ** ((-3 * lengths[k]) / sampleRateHz / (rt60 * highShare));
        // The pole whose low-pass leaves `lowGain` of the lowest and `highGain` of the highest frequency.
        poles[k] = (lowGain - highGain) / (lowGain + highGain);
        gains[k] = lowGain * (1 - poles[k]);
      }
      section.highpass(cuts, 0, integratorGain(values[slots.lowCutHz], sampleRateHz), Math.SQRT2);
      section.lowpass(cuts, 1, integratorGain(values[slots.highCutHz], sampleRateHz), Math.SQRT2);
      fresh = false;
    }

    /** Puts both sides, in the kernel, through their pre-delays. */
    function delayBoth(before: number): void {
      preDelays[0].in.set(insideL);
      preDelays[1].in.set(insideR);
      for (let side = 0; side < 2; side++) {
        // What is to be heard at once has to be written first.
        preDelays[side].writeBlock(0, BLOCK_SAMPLES);
        preDelays[side].readBlock(before + BLOCK_SAMPLES, 0, BLOCK_SAMPLES);
      }
      insideL.set(preDelays[0].out);
      insideR.set(preDelays[1].out);
    }

    /** Adds the first reflections, as wide as the rest. */
    function addEarly(left: Float64Array, right: Float64Array): void {
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        const middle = (earlyL[i] + earlyR[i]) / 2;
        const side = ((earlyL[i] - earlyR[i]) / 2) * (width.value + (i + 1) * width.step);
        left[i] += middle + side;
        right[i] += middle - side;
      }
    }

    /** Puts both sides, in the kernel, through their all-passes. */
    function diffuse(amount: number): void {
      for (let d = 0; d < diffusers.length; d++) {
        const [one, other] = diffusers[d];
        for (let from = 0, count = 0; from < BLOCK_SAMPLES; from += count) {
          count = Math.min(BLOCK_SAMPLES - from, shortestDiffuser);
          one.line.readBlock(one.length, from, count);
          other.line.readBlock(other.length, from, count);
          lateL.set(one.line.out);
          lateR.set(other.line.out);
          kernel.allPass(from, from + count, amount);
          one.line.in.set(nextL);
          other.line.in.set(nextR);
          one.line.writeBlock(from, count);
          other.line.writeBlock(from, count);
        }
      }
    }

    /**
     * How many samples can be worked out at a time: no more than the shortest way round, less what reading
     * between samples takes.
     */
    function turnSamples(): number {
      let shortest = Infinity;
      for (let k = 0; k < LINES; k++) {
        shortest = Math.min(shortest, distances[k], distances[k] + BLOCK_SAMPLES * distanceSteps[k]);
      }
      let count = MOST_TURN;
      while (count > 1 && count > shortest - READ_AHEAD) count /= 2;
      return count;
    }

    /**
     * Sends `count` samples of the kernel's from `from` on round the lines; what comes out of them takes the
     * place of what went in.
     */
    function turn(from: number, count: number): void {
      for (let k = 0; k < LINES; k++) {
        linePlaces[k] = lines.window(k, distances[k], distanceSteps[k], count);
        distances[k] += count * distanceSteps[k];
      }
      windows.set(lines.windows);
      kernel.turn(from, count, OUTPUT, width.value + from * width.step, width.step);
      lines.rows.set(rows);
      lines.write(count);
    }

    return {
      latency: 0,
      clear() {
        lines.clear();
        early.clear();
        for (const line of [...preDelays, ...diffusers.flat().map(({ line }) => line)]) line.clear();
        tone.fill(0);
        damped.fill(0);
        width.clear();
        fresh = true;
      },
      run(program, values, left, right) {
        const { slots } = program;
        tune(program, values);
        stereoSections.take(left, right);
        stereoSections.run(tone, 2, cuts, cuts, false);
        width.to(values[slots.width] / 100, BLOCK_SAMPLES);
        const before = Math.round(values[slots.preDelaySeconds] * sampleRateHz);
        delayBoth(before);
        // As large as the lines are, which may still be on their way to another size.
        early.write(preDelays, earlyL, earlyR, before, lengths[0] / fullLengths[0], values[slots.rt60Seconds], EARLY);
        diffuse((MOST_DIFFUSION * values[slots.diffusion]) / 100);
        lineGains.set(gains);
        linePoles.set(poles);
        lineSteps.set(distanceSteps);
        lineStates.set(damped);
        const count = turnSamples();
        for (let from = 0; from < BLOCK_SAMPLES; from += count) turn(from, count);
        damped.set(lineStates);
        stereoSections.give(left, right);
        addEarly(left, right);
        width.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: ({ slots }, values) =>
        Math.ceil(sampleRateHz * (values[slots.preDelaySeconds] + MOST_SIZE * LONGEST_SECONDS)),
    };
  },
};

/** So that a hall is about as loud as what goes in. */
const OUTPUT = 0.18;
const READ_AHEAD = 3;
/** Level at which the lines set in at full size: amplitude per square root of a second. */
const EARLY = 3.9;

/** How long after a sound its first reflection comes, seconds: the pre-delay, and what the size adds. */
export const firstReflectionSeconds = ({ preDelaySeconds, size }: Pick<Reverb, 'preDelaySeconds' | 'size'>): number =>
  preDelaySeconds + (size / 100) * FIRST_REFLECTION_SECONDS;

/** Power of the single reflections, and what each second of the lines' decay adds to it, at full size. */
const HELD = { reflections: 0.51, perSecond: 0.58 };

/** How loud a held sound comes out by itself, against what goes in, dB: within 1 dB (measured with noise). */
export const heldGainDb = ({ rt60Seconds }: Pick<Reverb, 'rt60Seconds'>): number =>
  10 * Math.log10(HELD.reflections + HELD.perSecond * rt60Seconds);

/** A turn of a swing, −1..1: a parabola is round enough, and many times faster than a sine. */
function roundTurn(cycles: number): number {
  const x = 4 * cycles - 2;
  return x * (2 - Math.abs(x));
}

/** All lines in one buffer, which are written at the same place. */
function createLines(most: number) {
  const size = nextPowerOfTwo(most + MOST_TURN + 4);
  const mask = size - 1;
  const windowsAt = LINES * size;
  const rowsAt = windowsAt + LINES * WINDOW;
  // Windows and rows stand behind the lines in the same memory, since only within an array pieces are moved
  // at once without views of them.
  const samples = new Float64Array(rowsAt + LINES * MOST_TURN);
  let at = 0;

  /**
   * Moves a piece of a line, from a place on that may lie beyond its end, to or from another place of the
   * memory.
   */
  function move(line: number, place: number, count: number, other: number, outwards: boolean): void {
    const first = place & mask;
    const straight = Math.min(count, size - first);
    const from = line * size + first;
    const rest = line * size;
    if (outwards) samples.copyWithin(other, from, from + straight);
    else samples.copyWithin(from, other, other + straight);
    if (straight === count) return;
    if (outwards) samples.copyWithin(other + straight, rest, rest + count - straight);
    else samples.copyWithin(rest, other + straight, other + count);
  }

  return {
    clear: () => void samples.fill(0),
    windows: samples.subarray(windowsAt, rowsAt),
    rows: samples.subarray(rowsAt),
    /**
     * Puts into a line's window what is read `distance` samples before the next one, `step` more from sample
     * to sample, and returns the place of the first in it.
     */
    window(line: number, distance: number, step: number, count: number): number {
      const start = at - Math.ceil(Math.max(distance, distance + count * step)) - 2;
      move(line, start, WINDOW, windowsAt + line * WINDOW, true);
      return at + 1 - distance - start;
    },
    /** Writes `count` samples of the rows to the lines. */
    write(count: number): void {
      for (let line = 0; line < LINES; line++) move(line, at + 1, count, rowsAt + line * MOST_TURN, false);
      at = (at + count) & mask;
    },
  };
}

/** Whole numbers of samples, spread by ratio, each moved on to the next prime. */
function lineLengths(sampleRateHz: number): number[] {
  return Array.from({ length: LINES }, (_, k) => {
    // Long and short ones in turn, so that both sides get some of each.
    const place = ((k * 7) % LINES) / (LINES - 1);
    return nextPrime(Math.round(sampleRateHz * SHORTEST_SECONDS * (LONGEST_SECONDS / SHORTEST_SECONDS) ** place));
  });
}

function nextPrime(from: number): number {
  const isPrime = (n: number) => {
    for (let d = 2; d * d <= n; d++) if (n % d === 0) return false;
    return true;
  };
  let n = from;
  while (!isPrime(n)) n++;
  return n;
}
