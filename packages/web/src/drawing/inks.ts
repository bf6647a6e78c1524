/** Colours of the present theme, for canvases and charts, which do not read CSS variables themselves. */
export interface Inks {
  reference: string;
  patch: string;
  paper: string;
  ink: string;
  soft: string;
  hairline: string;
  overprint: 'multiply' | 'screen';
}

export function currentInks(): Inks {
  const style = getComputedStyle(document.documentElement);
  const read = (name: string) => style.getPropertyValue(name).trim();
  return {
    reference: read('--ink-reference'),
    patch: read('--ink-patch'),
    paper: read('--color-base-100'),
    ink: read('--color-base-content'),
    soft: read('--soft'),
    hairline: read('--color-base-300'),
    overprint: read('--overprint') as Inks['overprint'],
  };
}
