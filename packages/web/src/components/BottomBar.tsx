import { Keyboard as KeyboardIcon, Moon, Redo2, Sun, Undo2 } from 'lucide-react';
import { useState } from 'react';
import { useSettings } from '../app/settings';
import { useShortcut } from '../app/useShortcut';
import { redo, undo, useHistory } from '../stores/patchStore';
import { Key } from './Key';
import { KeysHelp } from './KeysHelp';
import { Revisions } from './Revisions';

/** Undo, keyboard, theme, keys, and whether all is saved. */
export function BottomBar() {
  const { canUndo, canRedo } = useHistory();
  const { theme, setTheme, keyboardOpen, setKeyboardOpen } = useSettings();
  const [helpOpen, setHelpOpen] = useState(false);
  useShortcut('undo', undo);
  useShortcut('redo', redo);
  useShortcut('keyboard', () => setKeyboardOpen(!keyboardOpen), [keyboardOpen]);
  useShortcut('theme', () => setTheme(theme === 'paper' ? 'night' : 'paper'), [theme]);
  useShortcut('help', () => setHelpOpen(true));
  return (
    <footer className="hairline-t flex h-[34px] shrink-0 items-center gap-1 px-3 text-soft">
      <button
        type="button"
        className="btn btn-ghost btn-xs font-normal"
        aria-pressed={keyboardOpen}
        onClick={() => setKeyboardOpen(!keyboardOpen)}
      >
        <KeyboardIcon size={14} /> Keyboard <Key of="keyboard" />
      </button>
      <button type="button" className="btn btn-ghost btn-xs font-normal" disabled={!canUndo} onClick={undo}>
        <Undo2 size={14} /> Undo <Key of="undo" />
      </button>
      <button type="button" className="btn btn-ghost btn-xs font-normal" disabled={!canRedo} onClick={redo}>
        <Redo2 size={14} /> Redo
      </button>
      <button
        type="button"
        className="btn btn-ghost btn-xs font-normal"
        onClick={() => setTheme(theme === 'paper' ? 'night' : 'paper')}
      >
        {theme === 'paper' ? <Moon size={14} /> : <Sun size={14} />} {theme === 'paper' ? 'Night' : 'Paper'}{' '}
        <Key of="theme" />
      </button>
      <button type="button" className="btn btn-ghost btn-xs font-normal" onClick={() => setHelpOpen(true)}>
        All keys <Key of="help" />
      </button>
      <span className="grow" />
      <Revisions />
      {helpOpen && <KeysHelp onClose={() => setHelpOpen(false)} />}
    </footer>
  );
}
