import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between } from './comparedTrait';

/** Noise under this is not told from none. */
const NOISE_FLOOR_DB = -50;

const noiseLevel = ({ traits: { noise } }: Reading) =>
  noise.confidence > 0 ? (noise.levelDb ?? NOISE_FLOOR_DB) : null;

/** 2 dB: from memory. */
export const noise: readonly ComparedTrait[] = [
  {
    trait: 'noise',
    label: 'Noise level',
    unit: 'dB',
    value: noiseLevel,
    distance: between(noiseLevel, (a, b) => (a - b) / 2),
    wording: {
      more: 'There is too much noise',
      less: 'Noise is missing',
      closes: 'Add a noise source, or move its level.',
    },
  },
];
