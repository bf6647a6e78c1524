import wavefile from 'wavefile';
import { createRandom } from '../../test/signals';
import { wavetableFromSamples } from '../patch/contents/wavetableFrames';
import { writeWavetable } from './wavetable';

it('a wavetable is a plain WAV of 2048-sample frames, read by the library wavefile', () => {
  const random = createRandom(2);
  const samples = Float32Array.from({ length: 3 * 2048 }, () => 2 * random() - 1);
  const file = new wavefile.WaveFile(writeWavetable(wavetableFromSamples('t', 'Table', samples)));
  expect(file.bitDepth).toBe('32f');
  const read = file.getSamples(false, Float32Array) as unknown as Float32Array;
  expect(Array.from(read)).toEqual(Array.from(samples));
});
