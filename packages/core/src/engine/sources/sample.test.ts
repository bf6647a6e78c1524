import { sourcePatch } from '../../../test/patches';
import { RATE, hzAt, note, play } from '../../../test/playing';
import { createRandom, decibels, largestStep, rms } from '../../../test/signals';
import { sampleFromChannels } from '../../patch/contents/samplePcm';
import type { Patch } from '../../patch/schema';

const tone = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / RATE));

function samplePatch(fields: Record<string, unknown>, samples = tone, rate = RATE): Patch {
  const patch = sourcePatch({ kind: 'sample', sampleId: 'one', rootMidi: 69, ...fields });
  patch.samples = [sampleFromChannels('one', 'One', rate, [samples])];
  return patch;
}

describe('A sample', () => {
  it('plays at the pitch of the key, from any rate, up to its end', () => {
    const [octaveUp] = play(samplePatch({}), [note(0, 9, 81)], 1);
    expect(hzAt(octaveUp, 0.2)).toBeCloseTo(880, 0);
    expect(rms(octaveUp.subarray(0.6 * RATE))).toBeLessThan(1e-3);
    const slow = Float32Array.from({ length: 22050 }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / 22050));
    expect(hzAt(play(samplePatch({}, slow, 22050), [note(0, 9, 69)], 1)[0], 0.3)).toBeCloseTo(440, 0);
  });

  it('played higher does not fold: noise above the new Nyquist frequency is gone', () => {
    const random = createRandom(4);
    const noise = Float32Array.from({ length: 2 * RATE }, () => 0.5 * (2 * random() - 1));
    const [signal] = play(samplePatch({}, noise), [note(0, 9, 81)], 0.5);
    // Played an octave up, half of white noise's power is over the Nyquist frequency.
    expect(decibels(rms(signal.subarray(2000)) / rms(noise))).toBeCloseTo(-3, 0);
  });

  it('loops with a crossfade, and plays backwards', () => {
    const [looped] = play(
      samplePatch({ loop: true, loopStartSeconds: 0.3, loopEndSeconds: 0.5, crossfadeSeconds: 0.05 }),
      [note(0, 9, 69)],
      3,
    );
    expect(rms(looped.subarray(2.5 * RATE))).toBeGreaterThan(0.6);
    expect(largestStep(looped)).toBeLessThan(0.12);
    const rising = tone.map((x, i) => (x * i) / tone.length);
    const [backwards] = play(samplePatch({ reverse: true }, rising), [note(0, 9, 69)], 0.9);
    expect(rms(backwards.subarray(0, 4000))).toBeGreaterThan(4 * rms(backwards.subarray(0.85 * RATE)));
  });
});
