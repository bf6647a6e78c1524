import { rangeLeft } from './parameter';
import { parameterTable } from './table';

const { cutoffHz, resonanceDb } = parameterTable.lowpass;
const { rateHz } = parameterTable.lfo;

describe('A route leaves the range of what it moves', () => {
  it.each([
    ['a bipolar amount below a resonance', resonanceDb, 3, 6, 'bipolar', 'min'],
    ['a unipolar one that has room', resonanceDb, 3, 6, 'unipolar', undefined],
    ['a negative one', resonanceDb, 3, -6, 'unipolar', 'min'],
    ['up to the very end', resonanceDb, 3, 33, 'unipolar', undefined],
    ['semitones over 20 kHz', cutoffHz, 5000, 36, 'unipolar', 'max'],
    ['semitones within', cutoffHz, 5000, 24, 'unipolar', undefined],
    ['octaves under the slowest rate', rateHz, 0.02, 2, 'bipolar', 'min'],
  ] as const)('%s', (_what, parameter, resting, amount, polarity, end) => {
    expect(rangeLeft(parameter, resting, amount, polarity)).toBe(end);
  });
});
