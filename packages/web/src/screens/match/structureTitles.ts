import type { Structure } from '@imprint/core/matching/structure';

export const structureTitles: Readonly<Record<Structure, string>> = {
  any: 'Whatever fits',
  plain: 'Plain patch',
  copy: 'Copy',
  mixed: 'Mixture',
};
