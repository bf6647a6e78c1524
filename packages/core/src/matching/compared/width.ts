import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between } from './comparedTrait';

/** Sides under this are not heard. */
const NARROWEST_DB = -30;

const widthLevel = (reading: Reading) => {
  const { bands } = reading.traits.width;
  if (reading.channels === 1) return NARROWEST_DB;
  return bands.length > 0 ? Math.max(NARROWEST_DB, ...bands.map(({ widthDb }) => widthDb)) : null;
};

/** 3 dB: from memory. */
export const width: readonly ComparedTrait[] = [
  {
    trait: 'width',
    label: 'Width',
    unit: 'dB',
    value: widthLevel,
    distance: between(widthLevel, (a, b) => (a - b) / 3),
    wording: {
      more: 'The patch is too wide',
      less: 'The patch is too narrow',
      closes: 'Move the stereo spread of the source.',
    },
  },
];
