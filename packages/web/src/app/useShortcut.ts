import { type DependencyList } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { type ShortcutName, shortcuts } from './shortcuts';

/** Keys that a focused ruler takes for itself. */
const RULER_KEYS = new Set(['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown', 'Enter', 'Home', 'End', 'PageUp', 'PageDown']);

/** Runs an action on a key of the table, unless something is being typed. */
export function useShortcut(
  name: ShortcutName,
  action: (event: KeyboardEvent) => void,
  dependencies: DependencyList = [],
): void {
  useHotkeys(
    shortcuts[name].keys,
    (event) => {
      if (RULER_KEYS.has(event.key) && event.target instanceof HTMLElement && event.target.role === 'slider') return;
      event.preventDefault();
      action(event);
    },
    { enableOnFormTags: false, useKey: shortcuts[name].keys.includes('?') },
    dependencies,
  );
}
