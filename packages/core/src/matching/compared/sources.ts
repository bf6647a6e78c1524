import type { ComparedTrait } from './comparedTrait';

/** Nothing of it is compared: which waveforms a tone is the sum of shows in its partials. */
export const sources: readonly ComparedTrait[] = [];
