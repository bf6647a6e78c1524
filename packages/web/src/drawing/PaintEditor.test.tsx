import { fireEvent, render, screen } from '@testing-library/react';
import { openPatch } from '../../test/page';
import { pointer } from '../../test/pointer';
import { PaintEditor } from './PaintEditor';
import { axisIn } from './axis';

beforeEach(() => void openPatch());

describe('A painted row of values', () => {
  function editor(axis = axisIn('dB', [-20, 0]), values = [0, -6, -12, -18]) {
    const changes: number[][] = [];
    render(
      <PaintEditor
        as="bars"
        label="Levels"
        values={values}
        axis={axis}
        place={(i) => `value ${i + 1}`}
        onChange={(next) => changes.push(next)}
      />,
    );
    return { changes, canvas: screen.getByRole('slider') };
  }

  it('sets the value under the pointer', () => {
    const { changes, canvas } = editor();
    // Four values over 200 pixels, 20 dB over 100.
    pointer(canvas, 'pointerdown', 75, 50);
    expect(changes).toEqual([[0, -10, -12, -18]]);
    pointer(canvas, 'pointerup', 75, 50);
  });

  it('sets every value that a stroke passes, in a straight line', () => {
    const { changes, canvas } = editor();
    pointer(canvas, 'pointerdown', 10, 0);
    pointer(canvas, 'pointermove', 190, 90);
    pointer(canvas, 'pointerup', 190, 90);
    expect(changes.at(-1)).toEqual([0, -6, -12, -18]);
    expect(changes).toHaveLength(2);
  });

  it('chooses with left and right, changes with up and down', () => {
    const { changes, canvas } = editor();
    fireEvent.keyDown(canvas, { key: 'ArrowRight' });
    fireEvent.keyDown(canvas, { key: 'ArrowRight' });
    expect(canvas.getAttribute('aria-valuetext')).toBe('value 3: −12 dB');
    fireEvent.keyDown(canvas, { key: 'ArrowUp' });
    fireEvent.keyDown(canvas, { key: 'ArrowDown', shiftKey: true });
    expect(changes[0][2]).toBeCloseTo(-11.6);
    expect(changes[1][2]).toBeCloseTo(-12.04);
  });

  it('paints on the grid, and tells what is under the pointer', () => {
    const { changes, canvas } = editor(axisIn('dB', [-20, 0], 2));
    pointer(canvas, 'pointermove', 75, 53);
    expect(screen.getByRole('status').textContent).toBe('value 2, −6 dB → −10 dB');
    pointer(canvas, 'pointerdown', 75, 53);
    pointer(canvas, 'pointermove', 75, 53, true);
    pointer(canvas, 'pointerup', 75, 53);
    expect(changes.map((values) => Number(values[1].toFixed(6)))).toEqual([-10, -10.6]);
  });

  it('takes a typed value that a digit begins', () => {
    const { changes, canvas } = editor();
    fireEvent.keyDown(canvas, { key: 'ArrowRight' });
    fireEvent.keyDown(canvas, { key: '-' });
    const field = screen.getByLabelText<HTMLInputElement>('Value of value 2');
    expect(field.value).toBe('-');
    fireEvent.change(field, { target: { value: '-7.5' } });
    fireEvent.submit(field);
    expect(changes).toEqual([[0, -7.5, -12, -18]]);
  });
});
