import type { ComparedTrait } from './comparedTrait';

/** Nothing of it is compared: where resonances stand shows in the partials. */
export const formants: readonly ComparedTrait[] = [];
