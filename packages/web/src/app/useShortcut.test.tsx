import { act, fireEvent, render, screen } from '@testing-library/react';
import { useSettings } from './settings';
import { useShortcut } from './useShortcut';
import { isCharacterKey, shortcuts } from './shortcuts';

const done = jest.fn();

function Page() {
  useShortcut('play', () => done('play'));
  useShortcut('flip', () => done('flip'));
  useShortcut('step', (event) => done(event.key));
  useShortcut('undo', () => done('undo'));
  useShortcut('build', () => done('build'));
  return (
    <>
      <button type="button">Press</button>
      <a href="/elsewhere">Go</a>
      <input aria-label="Name" />
      <div role="slider" aria-label="Ruler" aria-valuenow={0} />
      <div role="slider" aria-label="Picture" aria-valuenow={0} data-kind="picture" />
    </>
  );
}

const press = (target: Element, key: string, code: string, more: object = {}) => {
  fireEvent.keyDown(target, { key, code, ...more });
  fireEvent.keyUp(target, { key, code, ...more });
};

beforeEach(() => {
  done.mockClear();
  useSettings.setState({ characterKeys: true });
  render(<Page />);
});

it('Space plays, but belongs to a button that has the focus', () => {
  press(document.body, ' ', 'Space');
  expect(done).toHaveBeenLastCalledWith('play');
  done.mockClear();
  press(screen.getByText('Press'), ' ', 'Space');
  press(screen.getByText('Press'), 'Enter', 'Enter');
  expect(done).not.toHaveBeenCalled();
  press(screen.getByText('Go'), ' ', 'Space');
  expect(done).toHaveBeenLastCalledWith('play');
});

it('nothing is a shortcut while something is typed', () => {
  press(screen.getByLabelText('Name'), 'f', 'KeyF');
  expect(done).not.toHaveBeenCalled();
});

it('a value is typed on a ruler, not on a picture', () => {
  press(screen.getByLabelText('Ruler'), '2', 'Digit2');
  expect(done).not.toHaveBeenCalled();
  press(screen.getByLabelText('Picture'), '2', 'Digit2');
  expect(done).toHaveBeenLastCalledWith('2');
});

it('keys that write a character can be switched off, the others go on', () => {
  press(document.body, 'f', 'KeyF');
  press(document.body, '2', 'Digit2');
  expect(done.mock.calls).toEqual([['flip'], ['2']]);
  done.mockClear();
  void act(() => useSettings.setState({ characterKeys: false }));
  press(document.body, 'f', 'KeyF');
  press(document.body, '2', 'Digit2');
  expect(done).not.toHaveBeenCalled();
  press(document.body, ' ', 'Space');
  press(document.body, 'z', 'KeyZ', { ctrlKey: true });
  press(document.body, 'Enter', 'Enter');
  expect(done.mock.calls).toEqual([['play'], ['undo'], ['build']]);
});

it('tells which keys write a character', () => {
  const characters = Object.values(shortcuts).filter(({ keys }) => isCharacterKey(keys));
  expect(characters.every(({ shown }) => /^(\S|1 … 6|W, held)$/.test(shown))).toBe(true);
  expect(characters).toHaveLength(27);
});
