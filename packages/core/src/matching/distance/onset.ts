import type { Audio } from '../../reading/audio';

const STEP_SECONDS = 0.001;
/** A sound has begun once it is louder than this against its loudest. */
const BEGUN = 10 ** (-40 / 10);

/** When a sound begins, s; 0 when it is silent. */
export function soundStart({ channels, sampleRateHz }: Audio): number {
  const step = Math.max(1, Math.round(STEP_SECONDS * sampleRateHz));
  const powers = new Float64Array(Math.floor(channels[0].length / step));
  let loudest = 0;
  for (let f = 0; f < powers.length; f++) {
    for (const channel of channels)
      for (let i = f * step; i < (f + 1) * step; i++) powers[f] += channel[i] * channel[i];
    loudest = Math.max(loudest, powers[f]);
  }
  const first = powers.findIndex((power) => power > 0 && power >= BEGUN * loudest);
  return (Math.max(0, first) * step) / sampleRateHz;
}
