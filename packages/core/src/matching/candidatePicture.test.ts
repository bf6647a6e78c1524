import { harmonicTone, saw } from '../../test/signals';
import { plainPatch } from '../../test/patches';
import { candidatePicture, candidatePictureSchema } from './candidatePicture';

const RATE_HZ = 44100;
const notes = [{ onsetSeconds: 0, durationSeconds: 0.8, midi: 45, velocity: 100 }];
const cut = {
  channels: [Float32Array.from(harmonicTone({ f0Hz: 110, sampleRateHz: RATE_HZ, seconds: 0.8, amplitude: saw }))],
  sampleRateHz: RATE_HZ,
};

describe('The picture of a candidate', () => {
  const picture = candidatePicture(plainPatch('saw'), notes, cut);

  it('has a level of both for every frequency, in order', () => {
    expect(candidatePictureSchema.parse(picture)).toEqual(picture);
    const { centresHz, referenceDb, patchDb } = picture;
    expect(referenceDb.length).toBe(centresHz.length);
    expect(patchDb.length).toBe(centresHz.length);
    expect(centresHz).toEqual([...centresHz].sort((a, b) => a - b));
    expect(centresHz.length).toBeGreaterThan(20);
  });

  it('counts from the strongest of the cut', () => {
    expect(Math.max(...picture.referenceDb)).toBe(0);
  });

  it('shows two saws as one line, but for how loud they are', () => {
    const { referenceDb, patchDb } = picture;
    const heard = referenceDb.flatMap((level, i) => (level > -40 ? [patchDb[i] - level] : []));
    expect(heard.length).toBeGreaterThan(15);
    const mean = heard.reduce((sum, x) => sum + x, 0) / heard.length;
    for (const off of heard) expect(Math.abs(off - mean)).toBeLessThan(1.5);
  });

  it('shows what a sine lacks', () => {
    const { centresHz, referenceDb, patchDb } = candidatePicture(plainPatch('sine'), notes, cut);
    const lacking = centresHz.flatMap((hz, i) =>
      hz > 300 && referenceDb[i] > -25 ? [referenceDb[i] - patchDb[i]] : [],
    );
    expect(lacking.length).toBeGreaterThan(8);
    for (const lack of lacking) expect(lack).toBeGreaterThan(15);
  });
});
