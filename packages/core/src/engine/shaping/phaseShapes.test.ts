import { plainPatch, sourcePatch } from '../../../test/patches';
import { amplitudeAt } from '../../../test/signals';
import { aliasDb } from '../../../test/spectrum';
import { hzFromMidi } from '../../dsp/pitch';
import type { Patch } from '../../patch/schema';
import { compileDrawnPhase, phaseShapeCode, shapedPhase, steepestSlope } from './phaseShapes';
import { renderPatch } from '../render';
import { some } from '../../../test/thorough';

const RATE = 44100;
const identity = compileDrawnPhase([
  { x: 0, y: 0 },
  { x: 1, y: 1 },
]);

function held(patch: Patch, midi: number): Float32Array {
  const notes = [{ onsetSeconds: 0, durationSeconds: 60, midi, velocity: 100 }];
  return renderPatch({ patch, notes, sampleRateHz: RATE, seconds: 1 })[0];
}

some(4).describe.each(Object.entries(phaseShapeCode))('The phase shape %s', (name, code) => {
  it('stays within the period and is never steeper than it says', () => {
    const points = 400;
    for (const amount of [-1, -0.4, 0, 0.3, 1]) {
      for (const extra of [1, 2.5, 8]) {
        const phases = Array.from({ length: points }, (_, i) => shapedPhase(code, i / points, amount, extra, identity));
        expect(Math.min(...phases)).toBeGreaterThanOrEqual(0);
        expect(Math.max(...phases)).toBeLessThanOrEqual(1);
        const jumps = name.startsWith('hardSync') || name === 'stairs';
        const steps = phases.slice(1).map((phase, i) => Math.abs(phase - phases[i]));
        const smooth = jumps ? steps.filter((step) => step < 0.5 / Math.max(extra, 2)) : steps;
        const slope = steepestSlope(code, amount, extra, identity) + (name === 'stairs' ? points / extra : 0);
        expect(Math.max(...smooth) * points).toBeLessThan(slope * 1.05 + 0.01);
      }
    }
  });
});

it('at amount 0 bend, skew, mirror, step and a drawn phase do nothing', () => {
  for (const name of ['crowded', 'leaning', 'thereAndBack', 'stairs', 'drawnTime'] as const) {
    for (const phase of [0, 0.2, 0.7, 0.99]) {
      expect(shapedPhase(phaseShapeCode[name], phase, 0, 5, identity)).toBeCloseTo(phase, 9);
    }
  }
});

describe('Hard sync', () => {
  // Of a saw synced at r periods, partial n comes from the Fourier integral over one period of the note.
  const partial = (ratio: number, n: number) => {
    let re = 0;
    let im = 0;
    const points = 20000;
    for (let i = 0; i < points; i++) {
      const x = i / points;
      const y = 2 * ((x * ratio) % 1) - 1;
      re += (2 * y * Math.cos(2 * Math.PI * n * x)) / points;
      im += (2 * y * Math.sin(2 * Math.PI * n * x)) / points;
    }
    return Math.hypot(re, im);
  };
  it.each([2, 3.4, 5.5])('at %f periods a note has the partials of its waveform', (ratio) => {
    const patch = plainPatch('saw', { phaseShape: 'hardSync', syncSemitones: 12 * Math.log2(ratio) });
    const signal = held(patch, 45);
    for (const n of [1, 2, 3, 5, 8]) {
      expect(amplitudeAt(signal, RATE, 110 * n)).toBeCloseTo(partial(ratio, n), 2);
    }
  });

  it.each([
    ['saw', 'hardSync'],
    ['sine', 'hardSync'],
    ['sine', 'hardSyncFaded'],
    ['pulse', 'hardSync'],
  ] as const)('of a %s (%s) aliases at least 60 dB under', (shape, phaseShape) => {
    for (const midi of [45.3, 69.4, 83.1]) {
      for (const syncSemitones of [7, 19, 33]) {
        const signal = held(plainPatch(shape, { phaseShape, syncSemitones }), midi);
        expect(aliasDb(signal, hzFromMidi(midi), RATE, 'strongest')).toBeLessThan(-60);
      }
    }
  });
});

it.each(['crowded', 'leaning', 'thereAndBack', 'stairs', 'drawnTime'] as const)(
  '%s aliases at least 60 dB under',
  (phaseShape) => {
    const drawnPhase = [
      { x: 0, y: 0 },
      { x: 0.2, y: 0.6 },
      { x: 0.6, y: 0.3 },
      { x: 1, y: 1 },
    ];
    for (const shape of ['sine', 'saw'] as const) {
      for (const midi of [45.3, 69.4]) {
        const signal = held(plainPatch(shape, { phaseShape, drawnPhase, phaseAmount: 70, phaseSteps: 9 }), midi);
        expect(aliasDb(signal, hzFromMidi(midi), RATE, 'strongest')).toBeLessThan(-60);
      }
    }
  },
);

it('a shaped source and a plain one of the same pitch stay in step: their sum is twice as loud at phase 0', () => {
  const shaped = { kind: 'shape', shape: 'sine', phaseShape: 'crowded', phaseAmount: 0 };
  const plain = { kind: 'shape', shape: 'sine' };
  for (const midi of [45, 93]) {
    const both = held(sourcePatch(shaped, plain), midi);
    expect(amplitudeAt(both, RATE, hzFromMidi(midi))).toBeCloseTo(2, 2);
  }
});
