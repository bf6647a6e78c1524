import { createDcBlock } from './dcBlock';

/** The output never gets over this: 12 dB over full scale, less a hair. */
const CEILING = 3.95;
/**
 * Level to which louder sound is turned down, with room for what is left of a peak before the turn is
 * complete.
 */
const TURNED_TO = 3.5;
/** Over so many samples the gain moves within a block, against clicks. */
const RAMP_SAMPLES = 16;
/**
 * A peak counts this long, more than a period of the lowest tone, so that a steady tone is turned by a steady
 * gain.
 */
const HOLD_SECONDS = 0.06;
const RECOVERY_SECONDS = 0.15;

/** Spares ears and loudspeakers what a patch puts out over 11 dB above full scale. */
export interface Guard {
  /** Turns a block of both channels down where it has to be. Leaves everything else as it is. */
  run(left: Float64Array, right: Float64Array): void;
}

/**
 * A limiter that knows the block before it puts it out. It turns both channels down as one and does not bend
 * their waveforms; what its own movement adds of a constant is taken away (our own rule).
 */
export function createGuard(sampleRateHz: number, blockSamples: number): Guard {
  const holdBlocks = Math.ceil((HOLD_SECONDS * sampleRateHz) / blockSamples);
  const recovery = Math.exp(-blockSamples / sampleRateHz / RECOVERY_SECONDS);
  /** The gain at the end of the last block, the peak that counts. */
  const state = new Float64Array([1, 0]);
  let blocksHeld = 0;
  const dcLeft = createDcBlock(sampleRateHz);
  const dcRight = createDcBlock(sampleRateHz);

  return {
    run(left, right) {
      let peak = 0;
      for (let i = 0; i < blockSamples; i++) peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
      if (peak >= state[1]) {
        state[1] = peak;
        blocksHeld = 0;
      } else if (++blocksHeld > holdBlocks) state[1] = peak + (state[1] - peak) * recovery;
      const from = state[0];
      const to = state[1] > TURNED_TO ? TURNED_TO / state[1] : 1;
      const turned = from < 1 || to < 1;
      if (turned) {
        turn(left, from, to);
        turn(right, from, to);
        state[0] = to;
      }
      if (!turned && dcLeft.silent && dcRight.silent) return;
      dcLeft.run(left);
      dcRight.run(right);
      clamp(left);
      clamp(right);
    },
  };
}

function turn(signal: Float64Array, from: number, to: number): void {
  for (let i = 0; i < signal.length; i++) {
    signal[i] *= i < RAMP_SAMPLES ? from + ((to - from) * (i + 1)) / RAMP_SAMPLES : to;
  }
}

function clamp(signal: Float64Array): void {
  for (let i = 0; i < signal.length; i++) signal[i] = Math.max(-CEILING, Math.min(CEILING, signal[i]));
}
