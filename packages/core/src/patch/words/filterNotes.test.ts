import { filterResponse } from '../../engine/filters/response';
import { filterNotes, ladderResonanceDb } from './filterNotes';
import { filterSchema } from '../schemas/shapingSchema';

const ladder = (resonance: number) =>
  filterSchema.parse({ kind: 'ladder', id: 'filter-1', on: true, cutoffHz: 1000, resonance });

describe('The resonance of a ladder', () => {
  it.each([0, 20, 40, 60, 70, 80])('at a feedback of %d %% is what its response shows', (feedback) => {
    const response = filterResponse(ladder(feedback), 44100);
    const lows = response.find(({ hz }) => hz > 40)!.db;
    const peak = Math.max(...response.map(({ db }) => db));
    // A bilinear filter at 44.1 kHz, read at points of a thirtieth of an octave.
    expect(Math.abs(ladderResonanceDb(feedback) - (peak - lows))).toBeLessThan(0.3);
  });

  it('is told in decibels, until it rings by itself', () => {
    expect(filterNotes(ladder(60)).resonance).toMatch(/^resonance 10\.\d dB$/);
    expect(filterNotes(ladder(105)).resonance).toBe('rings by itself');
  });
});
