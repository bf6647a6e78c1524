import { integratedLoudness } from '../dsp/loudness';
import { inTheTrack } from './inTheTrack';

const RATE_HZ = 44100;
const sine = (hz: number, gain: number, channels = 2) => ({
  channels: Array.from({ length: channels }, () =>
    Float32Array.from({ length: RATE_HZ }, (_, i) => gain * Math.sin((2 * Math.PI * hz * i) / RATE_HZ)),
  ),
  sampleRateHz: RATE_HZ,
});

it.each([1, 2])('puts the patch where the tone was, as loud as it (%i channels)', (channels) => {
  const [kept, leftOut, print] = [sine(440, 0.3), sine(100, 0.2), sine(440, 0.05, channels)];
  const mix = inTheTrack(kept, leftOut, print);
  const patch = mix.channels.map((channel, c) => channel.map((x, i) => x - leftOut.channels[c][i]));
  expect(mix.channels).toHaveLength(2);
  const loudness = [patch, kept.channels].map((one) => integratedLoudness(one, RATE_HZ));
  expect(loudness[0]).toBeCloseTo(loudness[1], 1);
});

it('leaves what is left out as it is where the patch is silent', () => {
  const leftOut = sine(100, 0.2);
  expect(inTheTrack(sine(440, 0.3), leftOut, sine(440, 0)).channels).toEqual(leftOut.channels);
});
