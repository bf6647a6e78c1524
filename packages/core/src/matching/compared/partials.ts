import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between } from './comparedTrait';

const oddEven = (reading: Reading) => reading.traits.partials.oddMinusEvenDb;
const tilt = (reading: Reading) => reading.traits.partials.tiltDbPerOctave;

/** Partials so far under those beside them are not heard: how much further says nothing. */
const UNHEARD_DB = 30;
const asHeard = (db: number) => Math.max(-UNHEARD_DB, Math.min(UNHEARD_DB, db));

/** Levels 2 dB (profile analysis, Green 1988); tilt 1 dB per octave: from memory. */
export const partials: readonly ComparedTrait[] = [
  {
    trait: 'partials',
    label: 'Partial levels',
    unit: 'dB',
    value: () => null,
    distance: partialsDistance,
    wording: {
      more: 'The partials have other levels than the reference',
      less: 'The partials have other levels than the reference',
      closes: 'Compare the partials; change the source’s shape or table.',
    },
  },
  {
    trait: 'oddMinusEven',
    label: 'Odd against even',
    unit: 'dB',
    value: oddEven,
    distance: between(oddEven, (a, b) => (asHeard(a) - asHeard(b)) / 2),
    wording: {
      more: 'The patch is too hollow',
      less: 'The patch is not hollow enough',
      closes: 'Change the source’s shape or table.',
    },
  },
  {
    trait: 'tilt',
    label: 'Partial tilt',
    unit: 'dB/oct',
    value: tilt,
    distance: between(tilt, (a, b) => a - b),
    wording: {
      more: 'The high partials are too strong',
      less: 'The high partials are too weak',
      closes: 'Change the source or the cutoff.',
    },
  },
];

const COMPARED_PARTIALS = 24;
const PARTIAL_FLOOR_DB = -60;

/** RMS difference of the partials' levels, the louder ones weighing more; 2 dB is one JND. */
function partialsDistance(reference: Reading, proof: Reading): number | undefined {
  const a = reference.traits.partials.levelsDb;
  const b = proof.traits.partials.levelsDb;
  const count = Math.min(COMPARED_PARTIALS, a.length, b.length);
  if (count === 0) return undefined;
  let sum = 0;
  let weight = 0;
  for (let i = 0; i < count; i++) {
    const left = Math.max(PARTIAL_FLOOR_DB, a[i]);
    const right = Math.max(PARTIAL_FLOOR_DB, b[i]);
    const w = 1 + Math.max(left, right) / -PARTIAL_FLOOR_DB;
    sum += w * (left - right) ** 2;
    weight += w;
  }
  return weight > 0 ? Math.sqrt(sum / weight) / 2 : undefined;
}
