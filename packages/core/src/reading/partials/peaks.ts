/** Extremes of a channel in equal stretches, for drawing long waveforms. */
export interface Peaks {
  samplesPerPeak: number;
  /** Minimum and maximum of stretch i at 2i and 2i + 1. */
  extremes: Float32Array;
}

/** The smallest and largest sample of every `samplesPerPeak` samples, over all channels. */
export function measurePeaks(channels: readonly Float32Array[], samplesPerPeak: number): Peaks {
  const length = channels[0].length;
  const count = Math.ceil(length / samplesPerPeak);
  const extremes = new Float32Array(2 * count);
  for (let i = 0; i < count; i++) {
    const [least, most] = extremesOf(channels, i * samplesPerPeak, (i + 1) * samplesPerPeak);
    extremes[2 * i] = least;
    extremes[2 * i + 1] = most;
  }
  return { samplesPerPeak, extremes };
}

/** Extremes of the samples `from..to` of all channels; [0, 0] where there are none. */
export function extremesOf(channels: readonly Float32Array[], from: number, to: number): [number, number] {
  let least = Infinity;
  let most = -Infinity;
  for (const channel of channels) {
    const end = Math.min(channel.length, to);
    for (let i = Math.max(0, from); i < end; i++) {
      const x = channel[i];
      if (x < least) least = x;
      if (x > most) most = x;
    }
  }
  return most < least ? [0, 0] : [least, most];
}
