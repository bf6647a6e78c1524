/** A key's name, beside the thing it does. */
export function Key({ children }: { children: string }) {
  return <kbd className="kbd kbd-xs figures bg-transparent">{children}</kbd>;
}
