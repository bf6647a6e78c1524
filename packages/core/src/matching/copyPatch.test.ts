import { lowpassed, times, voices } from '../../test/effects';
import { copyPatch } from './copyPatch';
import { gatherEvidence } from './evidence';
import { thorough } from '../../test/thorough';

thorough.it('takes values set by hand in place of those measured', () => {
  const sound = times(
    voices({ f0Hz: 220, seconds: 2, amplitude: lowpassed(220, (t) => 500 * 2 ** (3 * Math.exp(-6 * t)), 24) }),
    (t) => 0.2 * Math.min(1, t / 0.01) * (t < 1.5 ? 1 : Math.exp(-30 * (t - 1.5))),
  );
  const audio = { channels: [Float32Array.from(sound)], sampleRateHz: 44100 };
  const evidence = gatherEvidence(audio);
  const { cutoffHz } = evidence.reading.traits.brightness;
  const measured = copyPatch(evidence, audio, 'x');
  const byHand = {
    f0Hz: 110,
    attackSeconds: 0.2,
    releaseSeconds: 0.7,
    cutoffHz: 2 * cutoffHz!,
    resonanceDb: 6,
    voices: 5,
    detuneCents: 20,
  };
  const overruled = gatherEvidence(audio, undefined, {}, byHand);
  const [layer] = copyPatch(overruled, audio, 'x').layers;
  const [before] = measured.layers;
  expect(overruled.reading).toEqual(evidence.reading);
  expect(layer.amp).toMatchObject({ attackSeconds: 0.2, releaseSeconds: 0.7 });
  // The level is looked at through windows of the other pitch, one period long.
  expect(Math.abs(layer.amp.holdSeconds - before.amp.holdSeconds)).toBeLessThan(1 / byHand.f0Hz);
  expect(layer.filters[0]).toMatchObject({ resonanceDb: 6 });
  expect(layer.sources[0]).toMatchObject({ unisonVoices: 5, unisonDetuneCents: 20 });
  const cutoffOf = ([filter]: typeof layer.filters) => ('cutoffHz' in filter ? filter.cutoffHz : NaN);
  expect(cutoffOf(layer.filters) / cutoffOf(before.filters)).toBeCloseTo(2, 1);
});
