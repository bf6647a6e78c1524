import { fireEvent, render, screen } from '@testing-library/react';
import { openPatch } from '../../test/page';
import { pointer } from '../../test/pointer';
import { type EditedPoint, PointEditor } from './PointEditor';
import { axisIn } from './axis';

beforeEach(() => void openPatch());

const plain = axisIn('', [0, 1]);

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
        x={plain}
        y={plain}
        fixedEnds={fixedEnds}
        maxPoints={maxPoints}
        onChange={(next) => changes.push(next)}
      />,
    );
    return { changes, figure: screen.getByRole('figure'), handles: screen.getAllByRole('button') };
  }

  it('has a handle for each point, told in words', () => {
    const { handles } = editor();
    expect(handles.map((handle) => handle.getAttribute('aria-label'))).toEqual([
      'Point 1: 0: 0',
      'Point 2: 0.5: 1',
      'Point 3: 1: 0',
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

  it('tells the place under the pointer, and nothing once that has left', () => {
    const { figure } = editor();
    const svg = figure.querySelector('svg')!;
    pointer(svg, 'pointermove', 50, 25);
    expect(screen.getByRole('status').textContent).toBe('0.25: 0.75');
    fireEvent.pointerLeave(svg);
    expect(screen.queryByRole('status')).toBeNull();
  });

  it('takes a typed place with its units, and none that cannot be read', () => {
    const changes: EditedPoint[][] = [];
    render(
      <PointEditor
        label="Line"
        points={three}
        x={axisIn('s', [0, 1])}
        y={axisIn('dB', [-12, 12])}
        fixedEnds
        maxPoints={8}
        onChange={(next) => changes.push(next)}
      />,
    );
    fireEvent.keyDown(screen.getAllByRole('button')[1], { key: 'Enter' });
    const [along, up] = screen.getAllByRole('textbox') as HTMLInputElement[];
    expect([along.value, up.value]).toEqual(['500 ms', '+1 dB']);
    fireEvent.change(along, { target: { value: 'soon' } });
    fireEvent.submit(along);
    expect(changes).toEqual([]);
    expect(along.getAttribute('aria-invalid')).toBe('true');
    fireEvent.change(along, { target: { value: '250 ms' } });
    fireEvent.change(up, { target: { value: '−3 dB' } });
    fireEvent.submit(along);
    expect(changes[0][1]).toEqual({ x: 0.25, y: -3 });
    expect(screen.queryByRole('textbox')).toBeNull();
  });

  it('snaps to the grid unless Alt is held; arrows go from line to line', () => {
    const changes: EditedPoint[][] = [];
    const semitones = axisIn('st', [-12, 12], 1);
    render(
      <PointEditor
        label="Line"
        points={three}
        x={plain}
        y={semitones}
        fixedEnds
        maxPoints={8}
        onChange={(next) => changes.push(next)}
      />,
    );
    const svg = screen.getByRole('figure').querySelector('svg')!;
    const [, middle] = screen.getAllByRole('button');
    pointer(middle, 'pointerdown', 100, 50);
    pointer(svg, 'pointermove', 100, 22);
    pointer(svg, 'pointermove', 100, 22, true);
    pointer(svg, 'pointerup', 100, 22);
    expect(changes.map(([, { y }]) => Number(y.toFixed(6)))).toEqual([7, 6.72]);
    fireEvent.keyDown(middle, { key: 'ArrowUp' });
    expect(changes[2][1].y).toBe(2);
  });
});
