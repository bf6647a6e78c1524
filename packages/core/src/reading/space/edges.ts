import type { Waveform } from '../level/levelContour';

export interface Edges extends Waveform {
  channels: readonly Float64Array[];
}

/** Higher partials than are heard at this rate say no more of when they were heard before. */
const RATE_HZ = 11025;

/**
 * Differences of a wave, at the lowest whole fraction of its rate that is not under ours. They raise its
 * highs, so that all partials of a bright tone count, as they do for the ear.
 */
export function edgesOf({ channels, sampleRateHz, ...rest }: Waveform): Edges {
  const every = Math.max(1, Math.floor(sampleRateHz / RATE_HZ));
  const length = Math.floor(channels[0].length / every);
  const edges = channels.map((channel) => {
    const means = Float64Array.from({ length }, (_, i) => {
      let sum = 0;
      for (let j = i * every; j < (i + 1) * every; j++) sum += channel[j];
      return sum / every;
    });
    // Next to half the rate, where a time between two samples changes all, there is to be nothing.
    return means.map((x, i) => (i < 3 ? 0 : (x + means[i - 1] - means[i - 2] - means[i - 3]) / 4));
  });
  return { ...rest, channels: edges, sampleRateHz: sampleRateHz / every };
}
