import { fireEvent, render, screen } from '@testing-library/react';
import { openPatch } from '../../test/page';
import { pointer } from '../../test/pointer';
import { PointEditor } from './PointEditor';
import { axisIn } from './axis';

beforeEach(() => void openPatch());

const plain = axisIn('', [0, 1]);

describe('A stretch that can be bent', () => {
  function editor(from: number, to: number) {
    const shares: number[] = [];
    const bend = { x: 0.5, y: (from + to) / 2, from, to, title: 'Bend', onBend: (share: number) => shares.push(share) };
    render(<PointEditor label="Line" points={[]} x={plain} y={plain} maxPoints={0} bends={[bend]} />);
    return { shares, handle: screen.getByRole('button', { name: 'Bend' }) };
  }

  it.each([
    [0, 1, 0.54, 'rising'],
    [1, 0, 0.46, 'falling'],
    [0.2, 0.7, 0.54, 'rising in part'],
  ])('from %f to %f goes up with the arrow: %s', (from, to, share) => {
    const { shares, handle } = editor(from, to);
    fireEvent.keyDown(handle, { key: 'ArrowUp' });
    fireEvent.keyDown(handle, { key: 'ArrowDown', shiftKey: true });
    expect(shares[0]).toBeCloseTo(share, 9);
    expect(shares[1]).toBeCloseTo(0.5 + (share > 0.5 ? -0.004 : 0.004), 9);
  });

  it('follows the pointer, and becomes straight by Delete or a double-click', () => {
    const { shares, handle } = editor(0, 1);
    pointer(handle, 'pointerdown', 100, 50);
    pointer(handle, 'pointermove', 100, 20);
    pointer(handle, 'pointermove', 100, -400);
    pointer(handle, 'pointerup', 100, 20);
    pointer(handle, 'pointermove', 100, 90);
    fireEvent.keyDown(handle, { key: 'Delete' });
    fireEvent.doubleClick(handle);
    expect(shares).toEqual([0.8, 0.99, 0.5, 0.5]);
  });
});
