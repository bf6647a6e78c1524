import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between } from './comparedTrait';

const detune = ({ traits: { unison } }: Reading) => (unison.confidence > 0 ? (unison.detuneCents ?? 0) : null);

/** 2 cents or 15 %: from memory. */
export const unison: readonly ComparedTrait[] = [
  {
    trait: 'detune',
    label: 'Detune',
    unit: 'ct',
    value: detune,
    distance: between(detune, (a, b) => (a - b) / Math.max(2, 0.15 * a)),
    wording: {
      more: 'The voices are too far apart',
      less: 'The voices are too close',
      closes: 'Move Voices and Detune of the source.',
    },
  },
];
