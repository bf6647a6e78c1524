import { harmonicTone, saw } from '../../test/signals';
import { harmonicsOfFrame } from '../engine/tables/bandlimitedTable';
import { writeWavetable, readWavetable } from '../formats/wavetable';
import { readWav } from '../formats/wav';
import { pcmOf } from '../patch/contents/samplePcm';
import { framesOf } from '../patch/contents/wavetableFrames';
import { sampleFromSound, wavetableFromCut, wavetableFromSound } from './soundSources';

const RATE = 44100;
const tone = (f0Hz: number, seconds = 1) => ({
  channels: [harmonicTone({ f0Hz, seconds, amplitude: saw })],
  sampleRateHz: RATE,
});

it('a sample knows its root note, and keeps its sound', () => {
  const sound = tone(220);
  const { sample, rootMidi } = sampleFromSound(sound, 's', 'S');
  expect(rootMidi).toBeCloseTo(57, 1);
  const [kept] = pcmOf(sample);
  expect(kept.length).toBe(RATE);
  expect(Math.max(...kept.map((x, i) => Math.abs(x - sound.channels[0][i])))).toBeLessThan(1e-4);
});

it('a sample of a high rate is brought down, a long one cut off', () => {
  const long = { channels: [new Float32Array(96000 * 12)], sampleRateHz: 96000 };
  const { sample } = sampleFromSound(long, 's', 'S');
  expect(sample.sampleRateHz).toBe(48000);
  expect(pcmOf(sample)[0].length).toBe(480000);
});

it('a wavetable from a sound at its own pitch has the sound’s partials, its first one a sine', () => {
  const frames = framesOf(wavetableFromSound(tone(220), 57, 't', 'T'));
  const { cosine, sine } = harmonicsOfFrame(frames.subarray(5 * 2048, 6 * 2048));
  expect(Math.abs(cosine[1])).toBeLessThan(0.02 * sine[1]);
  for (const n of [2, 3, 7]) expect(Math.hypot(cosine[n], sine[n]) / sine[1]).toBeCloseTo(1 / n, 1);
});

it('says when a sound is too short for a wavetable', () => {
  expect(() => wavetableFromSound(tone(220, 0.01), 57, 't', 'Tick')).toThrow('at least four periods');
});

it('a cut without pitch gives no wavetable, and says so', () => {
  const silence = { channels: [new Float32Array(RATE)], sampleRateHz: RATE };
  expect(() => wavetableFromCut(silence, 't', 'T')).toThrow('No pitch');
  expect(wavetableFromCut(tone(110), 't', 'T').frameCount).toBeGreaterThan(1);
});

it('a wavetable comes back from its WAV, and a wrong length is refused', () => {
  const table = wavetableFromSound(tone(220), 57, 't', 'T');
  const read = readWavetable(readWav(writeWavetable(table)), 't', 'T');
  expect(read).toEqual(table);
  expect(() => readWavetable({ channels: [new Float32Array(3000)], sampleRateHz: RATE }, 't', 'T')).toThrow(
    '3000 samples; a wavetable is 1 to 256 frames of 2048',
  );
});
