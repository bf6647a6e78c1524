import { readSinc, resample } from '../../dsp/sinc';

/** A sample at full rate and at halves of it, so that it can be played higher without folding. Plain data. */
export interface PreparedSample {
  sampleRateHz: number;
  /** By halvings: channels × frames. */
  octaves: Float64Array[][];
}

/** Octaves above its root that a sample can be played cleanly. */
const HALVINGS = 5;

export function prepareSample(channels: readonly Float32Array[], sampleRateHz: number): PreparedSample {
  const octaves: Float64Array[][] = [channels.map((channel) => Float64Array.from(channel))];
  for (let n = 1; n <= HALVINGS && octaves[n - 1][0].length > 64; n++) {
    octaves.push(octaves[n - 1].map((channel) => resample(channel, 0.5)));
  }
  return { sampleRateHz, octaves };
}

/**
 * Between two halvings the band still has to be narrowed: these fractions of the Nyquist frequency are made
 * ready.
 */
const CUTOFFS = [1, 0.875, 0.75, 0.625, 0.5] as const;

/**
 * Makes the kernels that reading needs, which takes tens of milliseconds the first time: not for the audio
 * callback.
 */
export function prepareKernels(): void {
  for (const cutoff of CUTOFFS) readSinc([0], 0, cutoff);
}

/** The halving from which a sample played at `speed` times its own rate is read. */
export function octaveFor({ octaves }: PreparedSample, speed: number): number {
  let octave = 0;
  while (speed >= 2 ** (octave + 1) && octave < octaves.length - 1) octave++;
  return octave;
}

/** Pass-band edge for reading at a speed, in steps of the halving that is read. */
export function cutoffFor(speed: number): number {
  for (let i = 0; i < CUTOFFS.length; i++) if (CUTOFFS[i] * speed <= 1) return CUTOFFS[i];
  return CUTOFFS[CUTOFFS.length - 1];
}
