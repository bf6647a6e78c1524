import { type DependencyList } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { useSettings } from './settings';
import { type ShortcutName, isCharacterKey, shortcuts } from './shortcuts';

/** Keys that a focused ruler takes for itself. */
const RULER_KEYS = new Set([
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Enter',
  'Home',
  'End',
  'PageUp',
  'PageDown',
  // It is a number that has the focus, not the element that it belongs to.
  'Delete',
  'Backspace',
]);

/** What begins to type a value on a ruler. */
const BEGINS_A_VALUE = /^[0-9.,+−-]$/;

/**
 * Whether a key means something to the control that has the focus: text is typed, a ruler moves, a box is
 * ticked.
 */
function belongsToControl(key: string, target: HTMLElement): boolean {
  if (target.role === 'slider')
    return RULER_KEYS.has(key) || (target.dataset.kind !== 'picture' && BEGINS_A_VALUE.test(key));
  if (target instanceof HTMLInputElement && target.type === 'checkbox') return key === ' ';
  // A link is followed by Enter alone.
  if (target instanceof HTMLAnchorElement) return key === 'Enter';
  if (target instanceof HTMLButtonElement || target.tagName === 'SUMMARY') return key === 'Enter' || key === ' ';
  return target.closest('input, textarea, select, [contenteditable]') !== null;
}

/** Runs an action on a key of the table, unless something is being typed. */
export function useShortcut(
  name: ShortcutName,
  action: (event: KeyboardEvent) => void,
  dependencies: DependencyList = [],
): void {
  const { keys } = shortcuts[name];
  const characterKeys = useSettings((settings) => settings.characterKeys);
  useHotkeys(
    keys,
    (event) => {
      if (event.target instanceof HTMLElement && belongsToControl(event.key, event.target)) return;
      event.preventDefault();
      action(event);
    },
    // Which keys a control keeps for itself is decided here, key by key.
    { enableOnFormTags: true, useKey: keys.includes('?'), enabled: characterKeys || !isCharacterKey(keys) },
    dependencies,
  );
}
