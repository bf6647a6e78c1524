import type { Reading } from '../../reading/schema';
import { type ComparedTrait, present, ratioOfRates } from './comparedTrait';

/** The movement that is surest, besides vibrato. */
function movementOf(reading: Reading) {
  const others = reading.traits.motion.filter(({ cause }) => cause !== 'vibrato');
  return others.length > 0 ? others.reduce((a, b) => (b.confidence > a.confidence ? b : a)) : undefined;
}

const motionRate = (reading: Reading) => movementOf(reading)?.rateHz ?? null;

/** Rates 4 %: from memory. */
export const motion: readonly ComparedTrait[] = [
  {
    trait: 'motionRate',
    label: 'Movement',
    unit: 'Hz',
    value: motionRate,
    distance: present(motionRate, ratioOfRates),
    wording: {
      more: 'It does not move as the reference does',
      less: 'It does not move as the reference does',
      closes: 'Look at the cause on Read; route an LFO of that rate.',
    },
  },
];
