import { fireEvent, render, screen } from '@testing-library/react';
import { filterSchema } from '../../../../../core/src/patch/schemas/shapingSchema';
import { pointer } from '../../../../test/pointer';
import { openPatch } from '../../../../test/page';
import { FilterShape } from './FilterShape';

beforeEach(() => void openPatch());

/** Drags the corner to a place of the picture, which is 200 × 100 pixels, and gives what was set last. */
function dragged(fields: Record<string, unknown>, x: number, y: number): Record<string, number> {
  const changes: Record<string, number>[] = [];
  render(<FilterShape filter={filterSchema.parse({ id: 'filter-1', ...fields })} set={(next) => changes.push(next)} />);
  const svg = screen.getByRole('figure').querySelector('svg')!;
  pointer(screen.getByRole('button'), 'pointerdown', 0, 0);
  pointer(svg, 'pointermove', x, y);
  pointer(svg, 'pointerup', x, y);
  return changes.at(-1)!;
}

describe('The corner of a filter', () => {
  it('is dragged along for the cutoff and up for the resonance, in dB', () => {
    // Half of the three decades from 20 Hz; a sixth of the 72 dB under 24.
    const set = dragged({ kind: 'lowpass', cutoffHz: 5000 }, 100, 100 / 6);
    expect(set.cutoffHz).toBeCloseTo(20 * 10 ** 1.5, 0);
    expect(set.resonanceDb).toBeCloseTo(12, 1);
  });

  it('keeps what it sets in its range', () => {
    expect(dragged({ kind: 'lowpass', cutoffHz: 5000 }, 200, 100)).toEqual({ cutoffHz: 20000, resonanceDb: 0 });
  });

  it('stands at a place of their scale where it is no level that sharpens it', () => {
    const { feedback } = dragged({ kind: 'comb' }, 100, 0);
    expect(feedback).toBe(99);
  });

  it('is told in words, and shifts the vowels', () => {
    const { shiftSemitones } = dragged({ kind: 'formant' }, 100, 50);
    expect(shiftSemitones).toBeCloseTo(12 * Math.log2((20 * 10 ** 1.5) / 1000), 1);
    expect(screen.getByRole('button').getAttribute('aria-label')).toMatch(/^Shift of the formants 0 st, resonance/);
    fireEvent.pointerLeave(screen.getByRole('figure').querySelector('svg')!);
  });
});
