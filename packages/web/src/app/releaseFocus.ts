const CHOICES = 'select, input[type=checkbox], input[type=radio]';
const BUTTONS = 'button, summary, a';
/** Where a button keeps the focus, since what it opened lives by it. */
const KEEPS = '.dropdown, dialog, [aria-expanded], [role=menu]';

/**
 * Once a button was pressed, a box ticked or an entry of a list chosen by the pointer, the control lets go of
 * the focus, so that Space plays again and letters are shortcuts. Who works by keys keeps it, and Space
 * presses the button then. Returns what undoes it.
 */
export function releaseFocusOfPointers(): () => void {
  let byPointer = false;
  const onPointer = () => (byPointer = true);
  const onKey = () => (byPointer = false);
  const onChange = ({ target }: Event) => {
    if (byPointer && target instanceof HTMLElement && target.matches(CHOICES)) target.blur();
  };
  const onClick = ({ target }: Event) => {
    const button = target instanceof Element ? target.closest<HTMLElement>(BUTTONS) : null;
    if (byPointer && button && document.activeElement === button && !button.closest(KEEPS)) button.blur();
  };
  document.addEventListener('pointerdown', onPointer, true);
  document.addEventListener('keydown', onKey, true);
  document.addEventListener('change', onChange);
  document.addEventListener('click', onClick);
  return () => {
    document.removeEventListener('pointerdown', onPointer, true);
    document.removeEventListener('keydown', onKey, true);
    document.removeEventListener('change', onChange);
    document.removeEventListener('click', onClick);
  };
}
