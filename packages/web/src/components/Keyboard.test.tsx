import { act, fireEvent, render } from '@testing-library/react';
import { useSettings } from '../app/settings';
import { useShortcut } from '../app/useShortcut';
import type { Deck } from '../audio/deck';
import { useTransport } from '../stores/transportStore';
import { Keyboard } from './Keyboard';

const noteOn = jest.fn();
const shortcut = jest.fn();

function Page() {
  useShortcut('undoNote', shortcut);
  useShortcut('flip', shortcut);
  return <Keyboard />;
}

beforeEach(async () => {
  noteOn.mockClear();
  shortcut.mockClear();
  useSettings.setState({ characterKeys: true });
  useTransport.setState({ deck: { noteOn, noteOff: jest.fn(), control: jest.fn() } as unknown as Deck });
  await act(async () => void render(<Page />));
});

it('a letter that is played is no shortcut besides', () => {
  fireEvent.keyDown(document.body, { key: 'z', code: 'KeyZ' });
  expect(noteOn).toHaveBeenCalledWith(36, 36, 100);
  expect(shortcut).not.toHaveBeenCalled();
});

it('other letters are', () => {
  fireEvent.keyDown(document.body, { key: 'f', code: 'KeyF' });
  expect(noteOn).not.toHaveBeenCalled();
  expect(shortcut).toHaveBeenCalledTimes(1);
});

it('letters play nothing once such keys are switched off', () => {
  void act(() => useSettings.setState({ characterKeys: false }));
  fireEvent.keyDown(document.body, { key: 'z', code: 'KeyZ' });
  expect(noteOn).not.toHaveBeenCalled();
});
