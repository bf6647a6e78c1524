import type { ComparedTrait } from './comparedTrait';

/** Nothing of it is compared: how dirty a tone is shows in its partials. */
export const dirt: readonly ComparedTrait[] = [];
