import type { Reading } from '../../reading/schema';
import { type ComparedTrait, present, ratioOfRates } from './comparedTrait';

const ratio = (reading: Reading) => reading.traits.fm.ratio;

/** Where sidebands stand, as rates are compared. */
export const fm: readonly ComparedTrait[] = [
  {
    trait: 'fmRatio',
    label: 'Ratio of FM',
    unit: '',
    value: ratio,
    distance: present(ratio, ratioOfRates),
    wording: {
      more: 'The sidebands are not those of the reference',
      less: 'The sidebands are not those of the reference',
      closes: 'Carrier and ratio stand on Read.',
    },
  },
];
