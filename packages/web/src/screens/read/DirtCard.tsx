import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

const headlines: Record<NonNullable<Reading['traits']['dirt']['kind']>, string> = {
  none: 'clean',
  soft: 'soft saturation',
  hard: 'hard clipping',
  fold: 'folding',
  crush: 'crushed',
};

export function DirtCard({ reading }: { reading: Reading }) {
  const { kind, amount, bits, holdHz, confidence } = reading.traits.dirt;
  const crushed = [bits !== null && `${bits} bits`, holdHz !== null && `held at ${formatValue(holdHz, 'Hz')}`].filter(
    Boolean,
  );
  const driven = kind === 'soft' || kind === 'hard' || kind === 'fold';
  return (
    <TraitCard
      title="Dirt"
      confidence={confidence}
      doubt={reading.doubts.dirt}
      headline={kind === null ? 'cannot be told' : kind === 'crush' ? crushed.join(', ') : headlines[kind]}
      meaning={
        kind === null
          ? 'A curve shows where the same waveform comes loud and soft. Partials alone may be the source’s own.'
          : driven
            ? `A shaper with a ${kind} curve${amount === null ? '' : `; the loudest peaks reach ${amount.toFixed(1)} times its knee`}.`
            : kind === 'crush'
              ? 'The sample values themselves are coarse, and nothing was done after that.'
              : 'The waveform is the same loud and soft: no shaper is needed.'
      }
      values={[
        { label: 'Drive', value: driven && amount !== null ? `× ${amount.toFixed(1)}` : null },
        { label: 'Bits', value: bits === null ? null : String(bits), overrule: 'bits' },
        { label: 'Hold', value: holdHz === null ? null : formatValue(holdHz, 'Hz') },
      ]}
    />
  );
}
