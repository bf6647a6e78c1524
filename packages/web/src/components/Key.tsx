import { type ShortcutName, shortcuts } from '../app/shortcuts';

type KeyProps = { of: ShortcutName; children?: undefined } | { of?: undefined; children: string };

/** A key's name, beside the thing it does: that of a shortcut, or of a key on the control itself. */
export function Key({ of, children }: KeyProps) {
  return <kbd className="kbd kbd-xs figures bg-transparent">{of ? shortcuts[of].shown : children}</kbd>;
}
