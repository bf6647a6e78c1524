import { emptyPatch } from '../patch/defaults';
import { integratedLoudness } from '../dsp/loudness';
import { renderPatch } from '../engine/render';
import { inChannels } from '../reading/audio';
import { asLoudAs } from './loudness';
import { preparedOf } from './prepared';

const RATE_HZ = 44100;
const note = { midi: 57, velocity: 100, onsetSeconds: 0, durationSeconds: 0.9 };
const sine = Float32Array.from({ length: RATE_HZ }, (_, i) => 0.2 * Math.sin((2 * Math.PI * 440 * i) / RATE_HZ));

/** ITU-R BS.1770-5 adds up both channels; one alone is played from both sides. */
it.each([1, 2])('a print is as loud as a sound of %d channel(s) when both are played', (channels) => {
  const audio = { channels: Array.from({ length: channels }, () => sine), sampleRateHz: RATE_HZ };
  const patch = asLoudAs(emptyPatch('Tone'), [note], audio);
  const resources = preparedOf(patch);
  const print = renderPatch({ patch, notes: [note], sampleRateHz: RATE_HZ, seconds: 1, resources });
  const played = integratedLoudness(inChannels(audio, 2).channels, RATE_HZ);
  expect(integratedLoudness(print, RATE_HZ)).toBeCloseTo(played, 1);
});
