import { ONSET_SECONDS, contourCases, contourSound } from '../../../test/contourCases';
import { madeTones } from '../../../test/made/tones';
import { compileEnvelope, envelopeValue } from '../../patch/envelopeCurve';
import { plainEnvelope } from './envelopeModel';
import { readTone } from '../read';
import { fitContour } from './fitContour';
import { measureLevel } from './levelContour';
import { some } from '../../../test/thorough';

const RATE = 44100;
const fit = (signal: Float32Array, f0Hz?: number) => fitContour(measureLevel([signal], RATE, f0Hz));

describe('Fitted contours of eight known envelopes', () => {
  some(4).it.each(contourCases.map((row) => [row.name, row] as const))('%s', (_name, row) => {
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

describe('What is small or short beside what is long', () => {
  const plain = { name: '', f0Hz: 110, attackSeconds: 0.01, holdSeconds: 0, noteOffSeconds: 2, releaseSeconds: 0.3 };
  const decibels = (db: number) => 10 ** (db / 20);

  it.each([
    ['a small decay after a long attack', { attackSeconds: 0.8, decaySeconds: 0.5, sustain: decibels(-1.9) }],
    ['a short decay after a hold', { holdSeconds: 0.2, decaySeconds: 0.1, sustain: decibels(-3) }],
    ['a small decay of a low tone', { f0Hz: 58, holdSeconds: 0.3, decaySeconds: 0.12, sustain: decibels(-2.5) }],
  ])('%s', (_name, words) => {
    const row = { ...plain, ...words };
    const fitted = fit(contourSound(row), row.f0Hz);
    expect(Math.abs(fitted.attackSeconds / row.attackSeconds - 1)).toBeLessThan(0.2);
    expect(Math.abs(fitted.decaySeconds / row.decaySeconds - 1)).toBeLessThan(0.2);
    expect(Math.abs(fitted.holdSeconds - row.holdSeconds)).toBeLessThan(0.03);
    expect(fitted.sustainDb).toBeCloseTo(20 * Math.log10(row.sustain), 0);
    expect(Math.abs(fitted.releaseSeconds! / row.releaseSeconds - 1)).toBeLessThan(0.2);
  });

  it('tells no release of what was silent before it was let go', () => {
    const { releaseSeconds } = fit(contourSound({ ...plain, decaySeconds: 0.5, sustain: 0 }), plain.f0Hz);
    expect(releaseSeconds).toBeNull();
  });
});

it('fits with the curve that is played', () => {
  const model = { onset: 0.1, attack: 0.05, hold: 0.1, decay: 0.3, sustain: 0.25, off: 0.6, release: 0.4 };
  const program = compileEnvelope({
    attackSeconds: model.attack,
    holdSeconds: model.hold,
    decaySeconds: model.decay,
    sustainDb: 20 * Math.log10(model.sustain),
    releaseSeconds: model.release,
  });
  for (let at = 0; at < 1.2; at += 0.013) {
    expect(plainEnvelope(model, at)).toBeCloseTo(envelopeValue(program, at - model.onset, model.off - model.onset), 12);
  }
});

it('tells a note that falls at one rate behind its echoes as one that is not let go', () => {
  const plucked = madeTones(101).find(({ name }) => name === 'square lead with echoes')!;
  const channels = plucked.channels.map((channel) => Float32Array.from(channel));
  const { sustainDb, noteOffSeconds } = readTone({ channels, sampleRateHz: RATE }).traits.loudness;
  expect(sustainDb).toBeLessThan(-40);
  expect(noteOffSeconds).toBeNull();
});
