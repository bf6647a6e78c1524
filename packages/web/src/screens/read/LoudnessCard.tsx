import { useCallback } from 'react';
import { compileEnvelope, envelopeValue } from '@imprint/core/patch/envelopeCurve';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { curvesOption } from '../../drawing/overprintOptions';
import { seriesPoints } from '../../drawing/seriesPoints';
import { TraitCard } from './TraitCard';
import { show } from './show';

export function LoudnessCard({ reading }: { reading: Reading }) {
  const trait = reading.traits.loudness;
  const option = useCallback(
    (inks: Inks) => {
      const points = seriesPoints(trait.contour);
      return curvesOption(
        {
          reference: points.map(([x, y]) => [x, y === null ? null : Math.max(-80, y)]),
          fitted: fittedCurve(reading),
          x: { unit: 's', min: 0, max: reading.durationSeconds },
          y: { unit: 'dB', min: -80, max: 0 },
        },
        inks,
      );
    },
    [trait, reading],
  );
  const sustains = trait.sustainDb !== null && trait.sustainDb > -40;
  return (
    <TraitCard
      title="Loudness"
      confidence={trait.confidence}
      doubt={reading.doubts.loudness}
      evidence={{ wanted: { kind: 'loudness' }, label: 'On noise' }}
      headline={trait.lufs === null ? 'too quiet to tell' : `${trait.lufs.toFixed(1)} LUFS`}
      meaning={`An envelope with ${show(trait.attackSeconds, 's')} attack${
        (trait.holdSeconds ?? 0) > 0.01 ? `, ${show(trait.holdSeconds, 's')} hold` : ''
      }, ${show(trait.decaySeconds, 's')} decay to ${sustains ? show(trait.sustainDb, 'dB') : 'silence'}${
        trait.releaseSeconds === null
          ? '; the end of the note is not in the cut'
          : `, ${show(trait.releaseSeconds, 's')} release`
      }.`}
      values={[
        { label: 'Attack', value: show(trait.attackSeconds, 's'), overrule: 'attackSeconds' },
        { label: 'Hold', value: show(trait.holdSeconds, 's'), overrule: 'holdSeconds' },
        { label: 'Decay', value: show(trait.decaySeconds, 's'), overrule: 'decaySeconds' },
        { label: 'Sustain', value: show(trait.sustainDb, 'dB'), overrule: 'sustainDb' },
        { label: 'Release', value: show(trait.releaseSeconds, 's'), overrule: 'releaseSeconds' },
        { label: 'Crest', value: show(trait.crestDb, 'dB') },
      ]}
    >
      <Chart
        className="h-full min-h-[108px]"
        option={option}
        label="Level over time, with the fitted envelope dashed"
      />
    </TraitCard>
  );
}

const CURVE_POINTS = 240;

/** The fitted envelope as a line in dB. */
function fittedCurve({ traits: { loudness }, durationSeconds }: Reading): [number, number][] {
  const {
    onsetSeconds,
    attackSeconds,
    holdSeconds,
    decaySeconds,
    sustainDb,
    releaseSeconds,
    noteOffSeconds,
    fullLevelDb,
  } = loudness;
  if (onsetSeconds === null || attackSeconds === null || decaySeconds === null || sustainDb === null) return [];
  const program = compileEnvelope({
    attackSeconds,
    holdSeconds: holdSeconds ?? 0,
    decaySeconds,
    sustainDb,
    releaseSeconds: releaseSeconds ?? 0,
  });
  const off = noteOffSeconds === null ? Infinity : noteOffSeconds - onsetSeconds;
  return Array.from({ length: CURVE_POINTS }, (_, i) => {
    const at = (durationSeconds * i) / (CURVE_POINTS - 1);
    const value = envelopeValue(program, at - onsetSeconds, off);
    return [at, Math.max(-80, (fullLevelDb ?? 0) + 20 * Math.log10(value + 1e-6))];
  });
}
