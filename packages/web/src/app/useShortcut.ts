import { type DependencyList } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { type ShortcutName, shortcuts } from './shortcuts';

/** Runs an action on a key of the table, unless something is being typed. */
export function useShortcut(
  name: ShortcutName,
  action: (event: KeyboardEvent) => void,
  dependencies: DependencyList = [],
): void {
  useHotkeys(
    shortcuts[name].keys,
    (event) => {
      if (
        event.target instanceof HTMLElement &&
        event.target.closest('[data-own-keys]') &&
        !event.ctrlKey &&
        !event.metaKey
      )
        return;
      event.preventDefault();
      action(event);
    },
    { enableOnFormTags: false, useKey: shortcuts[name].keys.includes('?') },
    dependencies,
  );
}
