import { kernel, kernelNumbers } from './kernel';

const side = (place: 'left' | 'right' | 'dryLeft' | 'dryRight' | 'loopLeft' | 'loopRight') =>
  kernelNumbers(place, kernel.MOST.value);

/**
 * Both sides of a block in the kernel: the signal, what belongs beside it (dry, or late), and what is sent
 * round.
 */
export const kernelSides = {
  left: side('left'),
  right: side('right'),
  dryLeft: side('dryLeft'),
  dryRight: side('dryRight'),
  loopLeft: side('loopLeft'),
  loopRight: side('loopRight'),
} as const;
