import { gainFromDecibels } from '../dsp/decibels';
import { integratedLoudness } from '../dsp/loudness';
import { type Audio, inChannels } from '../reading/audio';

/**
 * The patch in the place of the tone: what an isolation leaves out of a cut, and a print of the patch as loud
 * as what it keeps (ITU-R BS.1770). To be heard against the cut as it is.
 */
export function inTheTrack(kept: Audio, leftOut: Audio, print: Audio): Audio {
  const count = Math.max(leftOut.channels.length, print.channels.length);
  const [tone, rest, patch] = [kept, leftOut, print].map((audio) => inChannels(audio, count));
  const loudnessOf = ({ channels, sampleRateHz }: Audio) => integratedLoudness(channels, sampleRateHz);
  const lift = loudnessOf(tone) - loudnessOf(patch);
  const gain = Number.isFinite(lift) ? gainFromDecibels(lift) : 1;
  const mixed = (channel: Float32Array, c: number) => channel.map((x, i) => x + gain * (patch.channels[c][i] ?? 0));
  return { ...rest, channels: rest.channels.map(mixed) };
}
