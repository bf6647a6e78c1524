import type { Reading } from '../../reading/schema';
import { type ComparedTrait, present, ratioOfRates, ratioOfTimes } from './comparedTrait';

const echo = (reading: Reading) => reading.traits.space.echo?.seconds ?? null;
const room = (reading: Reading) => reading.traits.space.rt60Seconds;

/** Reverberation time 5 %: ISO 3382-1, table A.1. Echoes as rates. */
export const space: readonly ComparedTrait[] = [
  {
    trait: 'echo',
    label: 'Echo time',
    unit: 's',
    value: echo,
    distance: present(echo, ratioOfRates),
    wording: {
      more: 'The echoes are not those of the reference',
      less: 'The echoes are not those of the reference',
      closes: 'The time and its feedback stand on Read.',
    },
  },
  {
    trait: 'room',
    label: 'Reverberation time',
    unit: 's',
    value: room,
    distance: present(room, ratioOfTimes(0.05)),
    wording: {
      more: 'The room is not that of the reference',
      less: 'The room is not that of the reference',
      closes: 'The reverberation time stands on Read.',
    },
  },
];
