import { fireEvent, render, screen } from '@testing-library/react';
import { releaseFocusOfPointers } from './releaseFocus';

let undo: () => void;
beforeEach(() => {
  undo = releaseFocusOfPointers();
  render(
    <>
      <input type="checkbox" aria-label="Tick" />
      <input type="text" aria-label="Name" />
      <select aria-label="Kind" defaultValue="a">
        <option>a</option>
        <option>b</option>
      </select>
    </>,
  );
});
afterEach(() => undo());

const focused = (label: string) => {
  const control = screen.getByLabelText(label);
  control.focus();
  return control;
};

it.each(['Tick', 'Kind'])('%s lets go of the focus when the pointer has changed it', (label) => {
  const control = focused(label);
  fireEvent.pointerDown(control);
  fireEvent(control, new Event('change', { bubbles: true }));
  expect(document.activeElement).toBe(document.body);
});

it.each(['Tick', 'Kind'])('%s keeps it when a key has', (label) => {
  const control = focused(label);
  fireEvent.pointerDown(control);
  fireEvent.keyDown(control, { key: ' ' });
  fireEvent(control, new Event('change', { bubbles: true }));
  expect(document.activeElement).toBe(control);
});

it('what is typed into keeps it in any case', () => {
  const control = focused('Name');
  fireEvent.pointerDown(control);
  fireEvent(control, new Event('change', { bubbles: true }));
  expect(document.activeElement).toBe(control);
});
