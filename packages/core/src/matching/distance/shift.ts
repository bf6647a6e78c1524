import { STEPS_PER_SEMITONE } from './blur';
import type { HeardScale } from './hear';

const LOWEST_HZ = 30;
const HIGHEST_HZ = 4500;
const USED_SHARE = 0.84;
const WIDEST_SEMITONES = 3;

/**
 * Correlation of two spectra at their best shift: two runs of noise have up to 0.21, of 0.3 s or more, a saw
 * and a sine two octaves over the lowest key 0.38. Under the first it is chance, over the second it is none.
 */
const AGREEMENT = { chance: 0.22, sure: 0.36 };

/**
 * How far a sound is out of tune against another, semitones: the shift on a scale of log frequency at which
 * their spectra (`logSpectrum`) agree best, between steps by a parabola. 0 where there is nothing to agree,
 * and less the more of the agreement may be chance.
 */
export function pitchShift(a: Float64Array, b: Float64Array): number {
  const reach = WIDEST_SEMITONES * STEPS_PER_SEMITONE;
  const products = new Float64Array(2 * reach + 1);
  // Lines are wider than two steps: every other one is enough to find where to look.
  let best = reach;
  for (let place = 0; place < products.length; place += 2) {
    products[place] = productAt(a, b, place - reach);
    if (products[place] > products[best]) best = place;
  }
  const top = best;
  for (const place of [top - 1, top + 1]) {
    if (place < 0 || place >= products.length) continue;
    products[place] = productAt(a, b, place - reach);
    if (products[place] > products[best]) best = place;
  }
  const agreement = products[best] / (Math.sqrt(powerOf(a) * powerOf(b)) || 1);
  const sure = Math.min(1, (agreement - AGREEMENT.chance) / (AGREEMENT.sure - AGREEMENT.chance));
  if (sure <= 0) return 0;
  if (best === 0 || best === 2 * reach) return (sure * (best - reach)) / STEPS_PER_SEMITONE;
  const [before, at, after] = [best - 1, best, best + 1].map((place) => products[place]);
  const curve = before - 2 * at + after;
  return (sure * (best - reach + (curve < 0 ? (before - after) / (2 * curve) : 0))) / STEPS_PER_SEMITONE;
}

/** Product of two spectra, the second so many steps further up. */
function productAt(a: Float64Array, b: Float64Array, shift: number): number {
  let sum = 0;
  const end = Math.min(a.length, a.length - shift);
  for (let i = Math.max(0, -shift); i < end; i++) sum += a[i] * b[i + shift];
  return sum;
}

function powerOf(values: Float64Array): number {
  let sum = 0;
  for (const x of values) sum += x * x;
  return sum;
}

/** Amplitudes over log frequency, the mean around each taken away, so that peaks are what is left. */
export function logSpectrum({ spectrum, binHz }: HeardScale): Float64Array {
  // The last bins are those that going down in rate takes away.
  const highestHz = Math.min(HIGHEST_HZ, USED_SHARE * spectrum.length * binHz);
  const steps = Math.floor(12 * STEPS_PER_SEMITONE * Math.log2(highestHz / LOWEST_HZ));
  // Logarithms of a window's main lobe are a parabola; between bins they are bent least.
  const levels = spectrum.map((power) => Math.log(power + 1e-12) / 4);
  const raw = new Float64Array(steps);
  for (let i = 0; i < steps; i++) {
    const at = (LOWEST_HZ * 2 ** (i / (12 * STEPS_PER_SEMITONE))) / binHz;
    const k = Math.min(spectrum.length - 2, Math.floor(at));
    const t = at - k;
    raw[i] = Math.exp((1 - t) * levels[k] + t * levels[k + 1]);
  }
  const reach = 2 * STEPS_PER_SEMITONE;
  const sums = new Float64Array(steps + 1);
  for (let i = 0; i < steps; i++) sums[i + 1] = sums[i] + raw[i];
  return raw.map((x, i) => {
    const from = Math.max(0, i - reach);
    const to = Math.min(steps, i + reach + 1);
    return x - (sums[to] - sums[from]) / (to - from);
  });
}
