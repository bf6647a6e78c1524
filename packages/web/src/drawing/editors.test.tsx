import { fireEvent, render, screen } from '@testing-library/react';
import { openPatch } from '../../test/page';
import { PaintEditor } from './PaintEditor';
import { type EditedPoint, PointEditor } from './PointEditor';

beforeEach(() => void openPatch());

function pointer(target: Element, type: string, clientX: number, clientY: number): void {
  fireEvent(target, Object.assign(new MouseEvent(type, { bubbles: true, clientX, clientY }), { pointerId: 1 }));
}

describe('A line of points', () => {
  const three = [
    { x: 0, y: 0 },
    { x: 0.5, y: 1 },
    { x: 1, y: 0 },
  ];

  function editor(points: EditedPoint[] = three, fixedEnds = true, maxPoints = 8) {
    const changes: EditedPoint[][] = [];
    render(
      <PointEditor
        label="Line"
        points={points}
        x={[0, 1]}
        y={[0, 1]}
        fixedEnds={fixedEnds}
        maxPoints={maxPoints}
        describe={({ x, y }) => `${x} ${y}`}
        onChange={(next) => changes.push(next)}
      />,
    );
    return { changes, figure: screen.getByRole('figure'), handles: screen.getAllByRole('button') };
  }

  it('has a handle for each point, told in words', () => {
    const { handles } = editor();
    expect(handles.map((handle) => handle.getAttribute('aria-label'))).toEqual([
      'Point 1: 0 0',
      'Point 2: 0.5 1',
      'Point 3: 1 0',
    ]);
  });

  it('moves a point by arrows, within the range and its neighbours', () => {
    const { changes, handles } = editor();
    fireEvent.keyDown(handles[1], { key: 'ArrowRight' });
    fireEvent.keyDown(handles[1], { key: 'ArrowUp' });
    fireEvent.keyDown(handles[1], { key: 'ArrowDown', shiftKey: true });
    expect(changes.map((points) => points[1])).toEqual([
      { x: 0.52, y: 1 },
      { x: 0.5, y: 1 },
      { x: 0.5, y: 0.998 },
    ]);
  });

  it('lets fixed ends move up and down only, and never takes them away', () => {
    const { changes, handles } = editor();
    fireEvent.keyDown(handles[0], { key: 'ArrowRight' });
    fireEvent.keyDown(handles[2], { key: 'ArrowUp' });
    expect(changes.map((points) => [points[0].x, points[2].y])).toEqual([
      [0, 0],
      [0, 0.02],
    ]);
    fireEvent.keyDown(handles[0], { key: 'Delete' });
    expect(changes).toHaveLength(2);
  });

  it('adds a point behind one with Insert, and takes one away with Delete', () => {
    const { changes, handles } = editor();
    fireEvent.keyDown(handles[0], { key: 'Insert' });
    expect(changes[0].map(({ x }) => x)).toEqual([0, 0.25, 0.5, 1]);
    fireEvent.keyDown(handles[1], { key: 'Delete' });
    expect(changes[1]).toEqual([three[0], three[2]]);
  });

  it('adds where it is double-clicked, unless it is full', () => {
    const { changes, figure } = editor();
    fireEvent.doubleClick(figure.querySelector('svg')!, { clientX: 150, clientY: 25 });
    expect(changes[0]).toContainEqual({ x: 0.75, y: 0.75 });
    openPatch();
    const full = editor(three, true, 3);
    fireEvent.doubleClick(full.figure.querySelector('svg')!, { clientX: 150, clientY: 25 });
    expect(full.changes).toEqual([]);
  });

  it('drags a point with the pointer', () => {
    const { changes, figure, handles } = editor();
    const svg = figure.querySelector('svg')!;
    pointer(handles[1], 'pointerdown', 100, 0);
    pointer(svg, 'pointermove', 60, 40);
    pointer(svg, 'pointerup', 60, 40);
    expect(changes.at(-1)![1]).toEqual({ x: 0.3, y: 0.6 });
    pointer(svg, 'pointermove', 10, 10);
    expect(changes).toHaveLength(1);
  });

  it('keeps at least one point where ends are free', () => {
    const { changes, handles } = editor([{ x: 0.2, y: 0.5 }], false);
    fireEvent.keyDown(handles[0], { key: 'Delete' });
    expect(changes).toEqual([]);
  });
});

describe('A stretch that can be bent', () => {
  function editor(from: number, to: number) {
    const shares: number[] = [];
    const bend = { x: 0.5, y: (from + to) / 2, from, to, title: 'Bend', onBend: (share: number) => shares.push(share) };
    render(
      <PointEditor label="Line" points={[]} x={[0, 1]} y={[0, 1]} maxPoints={0} describe={String} bends={[bend]} />,
    );
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

describe('A painted row of values', () => {
  function editor(values = [0, -6, -12, -18]) {
    const changes: number[][] = [];
    render(
      <PaintEditor
        as="bars"
        label="Levels"
        values={values}
        range={[-20, 0]}
        describe={(i, value) => `${i}: ${value}`}
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
    expect(canvas.getAttribute('aria-valuetext')).toBe('2: -12');
    fireEvent.keyDown(canvas, { key: 'ArrowUp' });
    fireEvent.keyDown(canvas, { key: 'ArrowDown', shiftKey: true });
    expect(changes[0][2]).toBeCloseTo(-11.6);
    expect(changes[1][2]).toBeCloseTo(-12.04);
  });
});
