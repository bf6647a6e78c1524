import { BLOCK_SAMPLES } from '../../sources/source';

/**
 * A constant is told by the mean under a Hann window of this length, in which the lowest tones do not count.
 */
const WINDOW_SECONDS = 0.17;
/** Of what is found so much is taken away at a time. */
const SHARE = 0.7;
/** No gain is counted as less than this. */
const LEAST_GAIN = 0.003;
/** After so long what was taken away has fallen by 60 dB, once nothing comes in. */
export const DC_SERVO_SECONDS = (WINDOW_SECONDS * Math.log(1000)) / -Math.log(1 - SHARE) + WINDOW_SECONDS;

/**
 * Finds the constant part of what an effect puts out, to be taken away where that does no harm: for those
 * whose output keeps a ceiling or stands on steps, which a high-pass would bend.
 */
export function createDcServo(sampleRateHz: number) {
  const length = BLOCK_SAMPLES * Math.round((WINDOW_SECONDS * sampleRateHz) / BLOCK_SAMPLES);
  const sums = [0, 0];
  const state = { at: 0, gains: 0 };
  /** Of either side, as it has been found so far. */
  const constants = [0, 0];
  return {
    constants,
    clear(): void {
      sums.fill(0);
      constants.fill(0);
      Object.assign(state, { at: 0, gains: 0 });
    },
    /** @param gain by which the block came out: what is found behind it was more before it */
    follow(left: Float64Array, right: Float64Array, gain: number): void {
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        const weight = 1 - Math.cos((2 * Math.PI * (state.at + i + 0.5)) / length);
        sums[0] += weight * left[i];
        sums[1] += weight * right[i];
      }
      state.at += BLOCK_SAMPLES;
      state.gains += BLOCK_SAMPLES * gain;
      if (state.at < length) return;
      const share = SHARE / length / Math.max(LEAST_GAIN, state.gains / length);
      for (let c = 0; c < 2; c++) {
        constants[c] += share * sums[c];
        if (Math.abs(constants[c]) < 1e-9) constants[c] = 0;
      }
      sums.fill(0);
      Object.assign(state, { at: 0, gains: 0 });
    },
  };
}
