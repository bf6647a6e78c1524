/** Overlapping triangles on the scale of auditory filters, as weights of the bins of a spectrum. */
export interface Bands {
  count: number;
  /** Distance of two bands in ERB numbers. */
  stepErb: number;
  centresHz: Float64Array;
  /** Of each band: its first bin, and where its weights begin in `weights`; one more for the end. */
  firstBins: Uint32Array;
  starts: Uint32Array;
  weights: Float64Array;
}

/** ERB number of a frequency: Glasberg & Moore 1990. */
export const erbNumber = (hz: number) => 21.4 * Math.log10(1 + 0.00437 * hz);
export const hzOfErb = (erb: number) => (10 ** (erb / 21.4) - 1) / 0.00437;

const HIGHEST_HZ = 16000;

/**
 * Bands from `lowestHz` up to 16 kHz or to what the rate holds. Each is at least as wide as two bins, so that
 * none falls between them: where windows are short, low bands overlap by more than their neighbours.
 */
export function erbBands(sampleRateHz: number, fftSize: number, lowestHz: number, stepErb: number): Bands {
  const binHz = sampleRateHz / fftSize;
  const top = erbNumber(Math.min(HIGHEST_HZ, 0.42 * sampleRateHz));
  const bottom = erbNumber(lowestHz);
  const count = Math.floor((top - bottom) / stepErb) + 1;
  const centresHz = Float64Array.from({ length: count }, (_, b) => hzOfErb(bottom + b * stepErb));
  const firstBins = new Uint32Array(count);
  const starts = new Uint32Array(count + 1);
  const weights: number[] = [];
  for (let b = 0; b < count; b++) {
    const centre = centresHz[b];
    const erb = bottom + b * stepErb;
    const low = Math.min(hzOfErb(erb - stepErb), centre - binHz);
    const high = Math.max(hzOfErb(erb + stepErb), centre + binHz);
    const from = Math.max(1, Math.ceil(low / binHz));
    const to = Math.min(fftSize / 2 - 1, Math.floor(high / binHz));
    firstBins[b] = from;
    for (let k = from; k <= to; k++) {
      const hz = k * binHz;
      weights.push(hz < centre ? (hz - low) / (centre - low) : (high - hz) / (high - centre));
    }
    starts[b + 1] = weights.length;
  }
  return { count, stepErb, centresHz, firstBins, starts, weights: Float64Array.from(weights) };
}

/** Sums the powers of bins into bands, from `at` on. */
export function sumBands(bands: Bands, power: Float64Array, out: Float64Array, at: number): void {
  const { count, firstBins, starts, weights } = bands;
  for (let b = 0; b < count; b++) {
    let sum = 0;
    const from = starts[b];
    const end = starts[b + 1];
    const bin = firstBins[b] - from;
    for (let i = from; i < end; i++) sum += weights[i] * power[bin + i];
    out[at + b] = sum;
  }
}

/**
 * What one band excites in its neighbours: 27 dB a Bark downwards and 10 to 15 dB upwards at medium levels
 * (Terhardt 1979); a Bark is about 1.5 ERB at medium frequencies. What lies under that is masked.
 */
const DOWN_DB_PER_ERB = 18;
const UP_DB_PER_ERB = 13;

/** Spreads the powers of bands from `at` on over their neighbours. */
export function spread({ count, stepErb }: Bands, powers: Float64Array, at: number): void {
  const up = 10 ** ((-UP_DB_PER_ERB * stepErb) / 10);
  const down = 10 ** ((-DOWN_DB_PER_ERB * stepErb) / 10);
  // Whichever is louder is heard: adding both up would lift a broad sound against a narrow one.
  for (let b = 1; b < count; b++) powers[at + b] = Math.max(powers[at + b], up * powers[at + b - 1]);
  for (let b = count - 2; b >= 0; b--) powers[at + b] = Math.max(powers[at + b], down * powers[at + b + 1]);
}

/** Threshold in quiet, dB SPL: Terhardt 1979. */
export function quietDb(hz: number): number {
  const khz = Math.max(0.02, hz / 1000);
  return 3.64 * khz ** -0.8 - 6.5 * Math.exp(-0.6 * (khz - 3.3) ** 2) + 1e-3 * khz ** 4;
}
