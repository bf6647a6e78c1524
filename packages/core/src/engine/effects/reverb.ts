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
    const mixed = new Float64Array(LINES);
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

    /** The sum of a side's input through its all-passes. */
    function diffuse(side: number, x: number, amount: number): number {
      let y = x;
      const chain = diffusers[side];
      for (let d = 0; d < chain.length; d++) {
        const { line, length } = chain[d];
        const late = line.whole(length - 1);
        const v = y - amount * late;
        y = late + amount * v;
        line.write(v);
      }
      return y;
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
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          preDelays[0].write(left[i]);
          preDelays[1].write(right[i]);
          const inL = diffuse(0, preDelays[0].whole(before), amount);
          const inR = diffuse(1, preDelays[1].whole(before), amount);
          lines.read(distances, mixed);
          let sumL = 0;
          let sumR = 0;
          for (let k = 0; k < LINES; k++) {
            const out = mixed[k];
            const y = gains[k] * (1 - poles[k]) * out + poles[k] * damped[k];
            damped[k] = y;
            mixed[k] = y;
            distances[k] += distanceSteps[k];
            // Signs by pairs: the sides share no sum.
            if (k % 2 === 0) sumL += k % 4 === 0 ? out : -out;
            else sumR += k % 4 === 1 ? out : -out;
          }
          hadamard(mixed);
          lines.write(mixed, inL, inR);
          const middle = (sumL + sumR) * OUTPUT;
          const side = (sumL - sumR) * OUTPUT * (width.value + (i + 1) * width.step);
          left[i] = middle + side;
          right[i] = middle - side;
        }
        width.advance(BLOCK_SAMPLES);
        for (let k = 0; k < LINES; k++) if (Math.abs(damped[k]) < FORGOTTEN) damped[k] = 0;
      },
      hiddenSamples: ({ slots }, values) =>
        Math.ceil(sampleRateHz * (values[slots.preDelaySeconds] + MOST_SIZE * LONGEST_SECONDS)),
    };
  },
};

/** So that a hall is about as loud as what goes in. */
const OUTPUT = 0.18;
const FORGOTTEN = 1e-15;

/** A turn of a swing, −1..1: a parabola is round enough, and many times faster than a sine. */
function roundTurn(cycles: number): number {
  const x = 4 * cycles - 2;
  return x * (2 - Math.abs(x));
}

/** All lines in one buffer, which are written at the same place. */
function createLines(most: number) {
  const size = nextPowerOfTwo(most + 4);
  const mask = size - 1;
  const samples = new Float64Array(LINES * size);
  let at = 0;
  return {
    clear: () => void samples.fill(0),
    /** What was written to each line so many samples ago: as `DelayLine.read` before its write of this sample. */
    read(distances: Float64Array, out: Float64Array): void {
      for (let k = 0; k < LINES; k++) {
        const whole = Math.floor(distances[k]);
        const d = distances[k] - whole;
        const from = k * size;
        const i = at + 1 - whole;
        const x1 = samples[from + (i & mask)];
        if (d === 0) {
          out[k] = x1;
          continue;
        }
        const x0 = samples[from + ((i + 1) & mask)];
        const x2 = samples[from + ((i - 1) & mask)];
        const x3 = samples[from + ((i - 2) & mask)];
        out[k] = lagrange(d, x0, x1, x2, x3);
      }
    },
    /** Writes a sample to every line, with what comes in from the left to every second one, and from the right to the others. */
    write(values: Float64Array, left: number, right: number): void {
      at = (at + 1) & mask;
      for (let k = 0; k < LINES; k += 2) {
        samples[k * size + at] = values[k] + left;
        samples[(k + 1) * size + at] = values[k + 1] + right;
      }
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

/** The Hadamard transform in place, scaled to keep the power. */
function hadamard(x: Float64Array): void {
  for (let half = 1; half < LINES; half *= 2) {
    for (let start = 0; start < LINES; start += 2 * half) {
      for (let k = start; k < start + half; k++) {
        const a = x[k];
        const b = x[k + half];
        x[k] = a + b;
        x[k + half] = a - b;
      }
    }
  }
  for (let k = 0; k < LINES; k++) x[k] *= 0.25;
}
