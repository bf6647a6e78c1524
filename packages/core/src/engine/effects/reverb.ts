import { nextPowerOfTwo } from '../../dsp/fft';
import { hashedRandom } from '../random';
import { integratorGain } from '../filters/filter';
import { SECTION, createSections, runSection, section } from '../filters/stateVariable';
import { BLOCK_SAMPLES } from '../sources/source';
import { DelayLine, lagrange } from './delayLine';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from './effect';

type Reverb = EffectOf<'reverb'>;

const LINES = 16;
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
 * A feedback delay network: sixteen lines of lengths without common factors, mixed by a Hadamard matrix, each with a one-pole low-pass whose
 * gains give all frequencies of all lines the decay that is set (Jot & Chaigne 1991); all-passes before it for the echo density (Schroeder
 * 1962), and slow swings of the lines against ringing modes.
 */
export const reverb: EffectModel<Reverb> = {
  standsApart: true,
  create(sampleRateHz) {
    const lines = createLines(Math.ceil(MOST_SIZE * LONGEST_SECONDS * sampleRateHz) + 100);
    const fullLengths = lineLengths(sampleRateHz);
    const lengths = Float64Array.from(fullLengths);
    const preDelays = [0, 1].map(() => new DelayLine(Math.ceil(MOST_PRE_DELAY_SECONDS * sampleRateHz)));
    const diffusers = [0, 1].map((side) =>
      DIFFUSER_SECONDS.map((seconds) => {
        const length = Math.round(seconds * sampleRateHz * (side === 0 ? 1 : SIDES_APART));
        return { length, line: new DelayLine(length) };
      }),
    );
    const gains = new Float64Array(LINES);
    const poles = new Float64Array(LINES);
    const damped = new Float64Array(LINES);
    /** What each line gives in one turn, and their sums for either side. */
    const rows = Array.from({ length: LINES }, () => new Float64Array(MOST_TURN));
    const sums = [new Float64Array(MOST_TURN), new Float64Array(MOST_TURN)];
    const swings = Float64Array.from({ length: LINES }, (_, k) => k / LINES);
    const swingTurns = Float64Array.from(
      { length: LINES },
      (_, k) => (SWING_HZ[0] + hashedRandom(7, k, 0) * (SWING_HZ[1] - SWING_HZ[0])) / sampleRateHz,
    );
    /** How far back each line is read at the start of a block, and how much further from sample to sample. */
    const distances = new Float64Array(LINES);
    const distanceSteps = new Float64Array(LINES);
    const tone = [0, 1].map(() => createSections(2));
    const cuts = new Float64Array(2 * SECTION);
    const still = new Float64Array(2 * SECTION);
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
        gains[k] = 10 ** ((-3 * lengths[k]) / sampleRateHz / rt60);
        const highGain = 10 ** ((-3 * lengths[k]) / sampleRateHz / (rt60 * highShare));
        // The pole whose low-pass leaves `gains` of the lowest and `highGain` of the highest frequency.
        poles[k] = (gains[k] - highGain) / (gains[k] + highGain);
      }
      section.highpass(cuts, 0, integratorGain(values[slots.lowCutHz], sampleRateHz), Math.SQRT2);
      section.lowpass(cuts, 1, integratorGain(values[slots.highCutHz], sampleRateHz), Math.SQRT2);
      fresh = false;
    }

    /** Puts a side through its pre-delay and its all-passes, in place. */
    function diffuse(side: number, signal: Float64Array, before: number, amount: number): void {
      const preDelay = preDelays[side];
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        preDelay.write(signal[i]);
        signal[i] = preDelay.whole(before);
      }
      const chain = diffusers[side];
      for (let d = 0; d < chain.length; d++) {
        const { line, length } = chain[d];
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const late = line.whole(length - 1);
          const v = signal[i] - amount * late;
          signal[i] = late + amount * v;
          line.write(v);
        }
      }
    }

    /** How many samples can be worked out at a time: no more than the shortest way round, less what reading between samples takes. */
    function turnSamples(): number {
      let shortest = Infinity;
      for (let k = 0; k < LINES; k++) {
        shortest = Math.min(shortest, distances[k], distances[k] + BLOCK_SAMPLES * distanceSteps[k]);
      }
      let count = MOST_TURN;
      while (count > 1 && count > shortest - READ_AHEAD) count /= 2;
      return count;
    }

    /** Sends `count` samples from `at` on round the lines; what comes out of them takes the place of what went in. */
    function turn(left: Float64Array, right: Float64Array, at: number, count: number): void {
      sums[0].fill(0, 0, count);
      sums[1].fill(0, 0, count);
      for (let k = 0; k < LINES; k++) {
        const row = rows[k];
        lines.read(k, distances[k], distanceSteps[k], count, row);
        distances[k] += count * distanceSteps[k];
        // Signs by pairs: the sides share no sum.
        const sum = sums[k % 2];
        const sign = k % 4 < 2 ? 1 : -1;
        const pole = poles[k];
        const gain = gains[k] * (1 - pole);
        let low = damped[k];
        for (let i = 0; i < count; i++) {
          sum[i] += sign * row[i];
          low = gain * row[i] + pole * low;
          row[i] = low;
        }
        damped[k] = Math.abs(low) < FORGOTTEN ? 0 : low;
      }
      hadamard(rows, count);
      for (let k = 0; k < LINES; k++) lines.write(k, rows[k], k % 2 === 0 ? left : right, at, count);
      lines.advance(count);
      for (let i = 0; i < count; i++) {
        const middle = (sums[0][i] + sums[1][i]) * OUTPUT;
        const side = (sums[0][i] - sums[1][i]) * OUTPUT * (width.value + (at + i + 1) * width.step);
        left[at + i] = middle + side;
        right[at + i] = middle - side;
      }
    }

    return {
      latency: 0,
      clear() {
        lines.clear();
        for (const line of [...preDelays, ...diffusers.flat().map(({ line }) => line)]) line.clear();
        for (const states of tone) states.fill(0);
        damped.fill(0);
        width.clear();
        fresh = true;
      },
      run(program, values, left, right) {
        const { slots } = program;
        tune(program, values);
        for (let c = 0; c < 2; c++) {
          const signal = c === 0 ? left : right;
          for (let s = 0; s < 2; s++) runSection(tone[c], s, signal, 0, BLOCK_SAMPLES, cuts, still, false);
        }
        const before = Math.round(values[slots.preDelaySeconds] * sampleRateHz);
        const amount = (MOST_DIFFUSION * values[slots.diffusion]) / 100;
        width.to(values[slots.width] / 100, BLOCK_SAMPLES);
        diffuse(0, left, before, amount);
        diffuse(1, right, before, amount);
        const count = turnSamples();
        for (let at = 0; at < BLOCK_SAMPLES; at += count) turn(left, right, at, count);
        width.advance(BLOCK_SAMPLES);
      },
      hiddenSamples: ({ slots }, values) =>
        Math.ceil(sampleRateHz * (values[slots.preDelaySeconds] + MOST_SIZE * LONGEST_SECONDS)),
    };
  },
};

/** So that a hall is about as loud as what goes in. */
const OUTPUT = 0.18;
const FORGOTTEN = 1e-15;
/** Samples that are sent round together: line after line is far faster than sample after sample. */
const MOST_TURN = 64;
const READ_AHEAD = 3;

/** A turn of a swing, −1..1: a parabola is round enough, and many times faster than a sine. */
function roundTurn(cycles: number): number {
  const x = 4 * cycles - 2;
  return x * (2 - Math.abs(x));
}

/** All lines in one buffer, which are written at the same place. */
function createLines(most: number) {
  const size = nextPowerOfTwo(most + MOST_TURN + 4);
  const mask = size - 1;
  const samples = new Float64Array(LINES * size);
  let at = 0;
  return {
    clear: () => void samples.fill(0),
    /** What was written to a line `distance` samples before each of the next ones, and `step` more from sample to sample. */
    read(line: number, distance: number, step: number, count: number, out: Float64Array): void {
      const from = line * size;
      const still = step === 0 && Number.isInteger(distance);
      for (let n = 0; n < count; n++) {
        const far = distance + n * step;
        const whole = Math.floor(far);
        const i = at + 1 + n - whole;
        const x1 = samples[from + (i & mask)];
        if (still) {
          out[n] = x1;
          continue;
        }
        const x0 = samples[from + ((i + 1) & mask)];
        const x2 = samples[from + ((i - 1) & mask)];
        const x3 = samples[from + ((i - 2) & mask)];
        out[n] = lagrange(far - whole, x0, x1, x2, x3);
      }
    },
    /** Writes to a line what goes round, and what comes in, of which `inputFrom` is the first. */
    write(line: number, values: Float64Array, input: Float64Array, inputFrom: number, count: number): void {
      const from = line * size;
      for (let n = 0; n < count; n++) samples[from + ((at + 1 + n) & mask)] = values[n] + input[inputFrom + n];
    },
    advance: (count: number) => void (at = (at + count) & mask),
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

/** The Hadamard transform of the lines in place, scaled to keep the power, for each of `count` samples. */
function hadamard(rows: readonly Float64Array[], count: number): void {
  for (let half = 1; half < LINES; half *= 2) {
    // Each stage by 1/√2, so that all together keep the power.
    for (let start = 0; start < LINES; start += 2 * half) {
      for (let k = start; k < start + half; k++) {
        const one = rows[k];
        const other = rows[k + half];
        for (let i = 0; i < count; i++) {
          const a = Math.SQRT1_2 * one[i];
          const b = Math.SQRT1_2 * other[i];
          one[i] = a + b;
          other[i] = a - b;
        }
      }
    }
  }
}
