import { fireEvent, render, screen } from '@testing-library/react';
import { releaseFocusOfPointers } from './releaseFocus';

let undo: () => void;
beforeEach(() => {
  undo = releaseFocusOfPointers();
  render(
    <>
      <input type="checkbox" aria-label="Tick" />
      <button type="button" aria-label="Press">
        Press
      </button>
      <button type="button" aria-label="Open" aria-expanded="false">
        Open
      </button>
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

it('a button lets go of the focus when the pointer has pressed it, and keeps it for a key', () => {
  const button = focused('Press');
  fireEvent.pointerDown(button);
  fireEvent.click(button);
  expect(document.activeElement).toBe(document.body);
  button.focus();
  fireEvent.keyDown(button, { key: ' ' });
  fireEvent.click(button);
  expect(document.activeElement).toBe(button);
});

it('a button that opens something keeps it, since what is open lives by it', () => {
  const button = focused('Open');
  fireEvent.pointerDown(button);
  fireEvent.click(button);
  expect(document.activeElement).toBe(button);
});
