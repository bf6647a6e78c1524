import { kWeighting } from '../../dsp/loudness';

const BLOCK_SECONDS = 0.4;
const ABSOLUTE_GATE_LKFS = -70;
const RELATIVE_GATE_LU = 10;
const loudnessOf = (power: number) => -0.691 + 10 * Math.log10(power);

/**
 * Integrated loudness (BS.1770) from powers of spectra, which are there anyway: weighted bin by bin, frames
 * taken together to blocks of 400 ms, gated as the recommendation has it. Relative to the loudest, so that
 * quiet sounds pass the absolute gate.
 */
export function createLoudnessMeter(sampleRateHz: number, bins: number, hopSeconds: number) {
  const weights = weightsFor(sampleRateHz, bins);
  const frames: number[] = [];
  return {
    addFrame(powers: Float64Array): void {
      let sum = 0;
      for (let k = 1; k < bins; k++) sum += weights[k] * powers[k];
      frames.push(sum);
    },
    /** K-weighted mean square of what passes the gates; 0 of silence. */
    power(): number {
      const length = Math.max(1, Math.min(frames.length, Math.round(BLOCK_SECONDS / hopSeconds)));
      const hop = Math.max(1, Math.round(length / 4));
      const blocks: number[] = [];
      for (let start = 0; start + length <= frames.length; start += hop) {
        let sum = 0;
        for (let f = start; f < start + length; f++) sum += frames[f] / length;
        blocks.push(sum);
      }
      const loudest = Math.max(0, ...blocks);
      const heard = blocks.filter((power) => power > 0 && loudnessOf(power / loudest) > ABSOLUTE_GATE_LKFS);
      if (heard.length === 0) return 0;
      const gate = meanOf(heard) * 10 ** (-RELATIVE_GATE_LU / 10);
      return meanOf(heard.filter((power) => power > gate));
    },
  };
}

const meanOf = (values: readonly number[]) => values.reduce((sum, x) => sum + x, 0) / values.length;

const known = new Map<string, Float64Array>();

/** Squared gain of both stages of the K-weighting at every bin, for windows of Hann scaled to sines. */
function weightsFor(sampleRateHz: number, bins: number): Float64Array {
  const key = `${sampleRateHz} ${bins}`;
  let weights = known.get(key);
  if (!weights) {
    const stages = kWeighting(sampleRateHz);
    // Powers of bins of a sine of amplitude 1 add up to 3/2 under this window; its mean square is 1/2.
    weights = Float64Array.from({ length: bins }, (_, k) =>
      stages.reduce((gain, { b0, b1, b2, a1, a2 }) => {
        const w = (Math.PI * k) / bins;
        const [c1, c2, s1, s2] = [Math.cos(w), Math.cos(2 * w), Math.sin(w), Math.sin(2 * w)];
        const above = (b0 + b1 * c1 + b2 * c2) ** 2 + (b1 * s1 + b2 * s2) ** 2;
        return (gain * above) / ((1 + a1 * c1 + a2 * c2) ** 2 + (a1 * s1 + a2 * s2) ** 2);
      }, 1 / 3),
    );
    known.set(key, weights);
  }
  return weights;
}
