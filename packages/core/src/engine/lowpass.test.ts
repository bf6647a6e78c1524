import { createRandom, decibels } from '../../test/signals';
import { createLowpassState, integratorGain, runLowpass, stageCount, stageDamping } from './lowpass';

const RATE = 44100;

/** Gain in dB at a frequency, from the steady state of a sine that is run through the stages. */
function gainDb(slope: 12 | 24, cutoffHz: number, resonanceDb: number, hz: number): number {
  const length = RATE;
  const buffer = Float64Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * hz * i) / RATE));
  const g = integratorGain(cutoffHz, RATE);
  for (let stage = 0; stage < stageCount(slope); stage++) {
    runLowpass(createLowpassState(), buffer, 0, length, g, 0, stageDamping(slope, stage, 10 ** (resonanceDb / 20)), 0);
  }
  const tail = buffer.subarray(length / 2);
  return decibels(Math.sqrt((2 * tail.reduce((sum, x) => sum + x * x, 0)) / tail.length));
}

describe('Low-pass', () => {
  // Bilinear transform of the Butterworth low-pass; for 12 dB it is the LPF of R. Bristow-Johnson's Audio EQ Cookbook.
  it.each([
    [12, 1000],
    [24, 1000],
    [12, 6000],
    [24, 200],
  ] as const)('%i dB per octave at %i Hz has the published response', (slope, cutoff) => {
    const warp = (hz: number) => Math.tan((Math.PI * hz) / RATE);
    for (const hz of [cutoff / 4, cutoff, 2 * cutoff]) {
      const order = slope / 6;
      const expected = -10 * Math.log10(1 + (warp(hz) / warp(cutoff)) ** (2 * order));
      expect(gainDb(slope, cutoff, 0, hz)).toBeCloseTo(expected, 1);
    }
  });

  it.each([12, 24] as const)('%i dB: resonance is the gain at the cutoff over that without', (slope) => {
    expect(gainDb(slope, 1000, 12, 1000)).toBeCloseTo(12 - 3.01, 1);
  });

  it('stays bounded while its cutoff jumps between 20 Hz and 20 kHz at every sample', () => {
    const random = createRandom(1);
    const state = createLowpassState();
    const sample = new Float64Array(1);
    let peak = 0;
    for (let i = 0; i < RATE; i++) {
      sample[0] = 2 * random() - 1;
      runLowpass(state, sample, 0, 1, integratorGain(i % 2 ? 20 : 20000, RATE), 0, 0.05, 0);
      peak = Math.max(peak, Math.abs(sample[0]));
    }
    expect(peak).toBeLessThan(100);
  });
});
