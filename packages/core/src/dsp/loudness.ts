import { type BiquadCoefficients, filterBiquad } from './biquad';

/**
 * Integrated loudness, ITU-R BS.1770-5: K-weighting, 400 ms blocks with 75 % overlap, absolute gate at −70
 * LKFS, relative gate 10 LU under the mean of what passed. Sounds shorter than a block are measured as one
 * block.
 *
 * @param channels one or two channels of samples, full scale ±1
 * @returns loudness in LKFS (= LUFS); −Infinity when every block is under the absolute gate
 */
export function integratedLoudness(channels: readonly ArrayLike<number>[], sampleRateHz: number): number {
  const blocks = blockPowers(channels, sampleRateHz).filter((power) => loudnessOfPower(power) > ABSOLUTE_GATE_LKFS);
  if (blocks.length === 0) return -Infinity;
  const relativeGate = loudnessOfPower(mean(blocks)) - RELATIVE_GATE_LU;
  return loudnessOfPower(mean(blocks.filter((power) => loudnessOfPower(power) > relativeGate)));
}

const ABSOLUTE_GATE_LKFS = -70;
const RELATIVE_GATE_LU = 10;
const BLOCK_SECONDS = 0.4;
const HOP_SECONDS = 0.1;

const loudnessOfPower = (power: number) => -0.691 + 10 * Math.log10(power);
const mean = (values: number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;

/** Mean square of the K-weighted signal, summed over channels, per gating block. */
function blockPowers(channels: readonly ArrayLike<number>[], sampleRateHz: number): number[] {
  const [shelf, highPass] = kWeighting(sampleRateHz);
  const weighted = channels.map((channel) => filterBiquad(filterBiquad(channel, shelf), highPass));
  const length = weighted[0]?.length ?? 0;
  const block = Math.max(1, Math.min(length, Math.round(BLOCK_SECONDS * sampleRateHz)));
  const hop = Math.max(1, Math.round(HOP_SECONDS * sampleRateHz));
  const powers: number[] = [];
  for (let start = 0; start + block <= length; start += hop) {
    let power = 0;
    for (const channel of weighted) {
      let sum = 0;
      for (let i = start; i < start + block; i++) sum += channel[i] * channel[i];
      power += sum / block;
    }
    powers.push(power);
  }
  return powers;
}

/**
 * The two stages of BS.1770 for any rate. The recommendation gives coefficients at 48 kHz only; these
 * analogue parameters reproduce them there to all printed digits (De Man, "Evaluation of implementations of
 * the EBU R128 loudness measurement", 2014).
 */
export function kWeighting(sampleRateHz: number): [BiquadCoefficients, BiquadCoefficients] {
  const shelf = (() => {
    const gain = 10 ** (3.999843853973347 / 20);
    const q = 0.7071752369554196;
    const k = Math.tan((Math.PI * 1681.974450955533) / sampleRateHz);
    const vb = gain ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return {
      b0: (gain + (vb * k) / q + k * k) / a0,
      b1: (2 * (k * k - gain)) / a0,
      b2: (gain - (vb * k) / q + k * k) / a0,
      a1: (2 * (k * k - 1)) / a0,
      a2: (1 - k / q + k * k) / a0,
    };
  })();
  const q = 0.5003270373238773;
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRateHz);
  const a0 = 1 + k / q + k * k;
  return [shelf, { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 }];
}
