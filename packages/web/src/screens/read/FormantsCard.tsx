import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

/** Ends that are nearer than this are one, as a ratio. */
const STILL = 1.06;

export function FormantsCard({ reading }: { reading: Reading }) {
  const { peaks, confidence } = reading.traits.formants;
  const moves = peaks.some(({ fromHz, toHz }) => Math.max(fromHz / toHz, toHz / fromHz) > STILL);
  const place = ({ fromHz, toHz }: (typeof peaks)[number]) =>
    Math.max(fromHz / toHz, toHz / fromHz) > STILL
      ? `${formatValue(fromHz, 'Hz')} to ${formatValue(toHz, 'Hz')}`
      : formatValue(fromHz, 'Hz');
  return (
    <TraitCard
      title="Formants"
      confidence={confidence}
      doubt={reading.doubts.formants}
      headline={peaks.length === 0 ? 'none' : `${peaks.length} resonances${moves ? ' that move' : ''}`}
      meaning={
        peaks.length === 0
          ? 'The partials have no humps of their own.'
          : `A vowel filter, or ${peaks.length} peaks of an equaliser, where the humps of the partials stand.`
      }
      values={peaks.map((peak, i) => ({
        label: `Peak ${i + 1}`,
        value: place(peak),
      }))}
    />
  );
}
