const CONTROLS = 'select, input[type=checkbox], input[type=radio]';

/**
 * Once a box was ticked or an entry of a list chosen by the pointer, the control lets go of the focus, so that Space plays again and letters are
 * shortcuts. Who works by keys keeps it. Returns what undoes it.
 */
export function releaseFocusOfPointers(): () => void {
  let byPointer = false;
  const onPointer = () => (byPointer = true);
  const onKey = () => (byPointer = false);
  const onChange = ({ target }: Event) => {
    if (byPointer && target instanceof HTMLElement && target.matches(CONTROLS)) target.blur();
  };
  document.addEventListener('pointerdown', onPointer, true);
  document.addEventListener('keydown', onKey, true);
  document.addEventListener('change', onChange);
  return () => {
    document.removeEventListener('pointerdown', onPointer, true);
    document.removeEventListener('keydown', onKey, true);
    document.removeEventListener('change', onChange);
  };
}
