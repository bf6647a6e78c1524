import type { Reading } from '../../reading/schema';
import { type ComparedTrait, present, ratioOfRates } from './comparedTrait';

const rate = (reading: Reading) => reading.traits.ring.rateHz;

/** How far sidebands stand from the partials, as rates are compared. */
export const ring: readonly ComparedTrait[] = [
  {
    trait: 'ringRate',
    label: 'Rate of ring or AM',
    unit: 'Hz',
    value: rate,
    distance: present(rate, ratioOfRates),
    wording: {
      more: 'The sidebands are not those of the reference',
      less: 'The sidebands are not those of the reference',
      closes: 'The rate stands on Read.',
    },
  },
];
