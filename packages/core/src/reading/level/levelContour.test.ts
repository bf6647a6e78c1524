import { ONSET_SECONDS, contourCases, contourSound } from '../../../test/contourCases';
import { fitContour, measureLevel } from './levelContour';

const RATE = 44100;
const fit = (signal: Float32Array, f0Hz?: number) => fitContour(measureLevel([signal], RATE, f0Hz));

describe('Fitted contours of eight known envelopes', () => {
  it.each(contourCases.map((row) => [row.name, row] as const))('%s', (_name, row) => {
    const fitted = fit(contourSound(row), row.f0Hz);
    const attackError = Math.abs(fitted.attackSeconds - row.attackSeconds);
    expect(attackError <= 0.25 * row.attackSeconds || attackError <= 0.004).toBe(true);
    expect(Math.abs(fitted.releaseSeconds! / row.releaseSeconds - 1)).toBeLessThan(0.25);
    expect(Math.abs(fitted.onsetSeconds - ONSET_SECONDS)).toBeLessThan(0.01);
    expect(Math.abs(fitted.noteOffSeconds! - ONSET_SECONDS - row.noteOffSeconds)).toBeLessThan(0.03);
    // A decay that goes nowhere has no length.
    if (row.sustain < 0.9) {
      expect(Math.abs(fitted.decaySeconds / row.decaySeconds - 1)).toBeLessThan(0.2);
      expect(Math.abs(fitted.sustainDb - 20 * Math.log10(row.sustain))).toBeLessThan(1);
    }
  });
});

it('says that the note-off is not in the cut when the note is held to its end', () => {
  const [row] = contourCases;
  const sound = contourSound({ ...row, sustain: 0.6, noteOffSeconds: 1 }).subarray(0, 0.9 * RATE);
  const { noteOffSeconds, releaseSeconds } = fit(sound, row.f0Hz);
  expect(noteOffSeconds).toBeNull();
  expect(releaseSeconds).toBeNull();
});

it('shows a steady low tone as steady: no ripple of its own period', () => {
  const signal = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * 41.2 * i) / RATE));
  const { rms } = measureLevel([signal], RATE, 41.2);
  const inside = rms.subarray(50, 900);
  expect(Math.max(...inside) / Math.min(...inside)).toBeLessThan(1.01);
});
