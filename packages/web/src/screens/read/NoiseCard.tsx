import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

/** Centroids of noise from which on it is called bright, and under which dark. */
const BRIGHT_HZ = 8000;
const DARK_HZ = 2500;

export function NoiseCard({ reading }: { reading: Reading }) {
  const { levelDb, centroidHz, attackOnly, confidence } = reading.traits.noise;
  const colour = (centroidHz ?? 0) > BRIGHT_HZ ? 'white' : (centroidHz ?? 0) < DARK_HZ ? 'dark' : 'pink';
  return (
    <TraitCard
      title="Noise"
      confidence={confidence}
      doubt={reading.doubts.noise}
      evidence={levelDb === null ? undefined : { wanted: { kind: 'noise' }, label: 'Without the partials' }}
      headline={
        levelDb === null
          ? confidence > 0
            ? 'no noise under the tone'
            : 'cannot be told'
          : `${formatValue(levelDb, 'dB')} against the tone`
      }
      meaning={
        levelDb === null
          ? confidence > 0
            ? 'No noise source is needed.'
            : 'Noise is measured between the partials of a tone with a pitch, a tenth of a second of it at least.'
          : attackOnly
            ? `A ${colour} noise source with a short contour: it belongs to the start only.`
            : `A ${colour} noise source at about ${formatValue(levelDb, 'dB')}, for as long as the tone lasts.`
      }
      values={[
        { label: 'Level', value: levelDb === null ? null : formatValue(levelDb, 'dB'), overrule: 'noiseDb' },
        { label: 'Centroid', value: centroidHz === null ? null : formatValue(centroidHz, 'Hz') },
        { label: 'When', value: attackOnly === null ? null : attackOnly ? 'at the start' : 'throughout' },
      ]}
    />
  );
}
