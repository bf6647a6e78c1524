import { useCallback } from 'react';
import type { Reading } from '@imprint/core/reading/schema';
import { Chart } from '../../drawing/Chart';
import type { Inks } from '../../drawing/inks';
import { partialsOption } from '../../drawing/overprintOptions';
import { PartialSolo } from './PartialSolo';
import { TraitCard } from './TraitCard';
import { show } from './show';

const SHOWN_PARTIALS = 32;

const inharmonicityWords = (inharmonicity: number | null) =>
  inharmonicity === null ? null : inharmonicity === 0 ? 'harmonic' : inharmonicity.toExponential(1);

export function PartialsCard({ reading }: { reading: Reading }) {
  const { levelsDb, nearestShape, pulseWidth, oddMinusEvenDb, tiltDbPerOctave, standout, inharmonicity, confidence } =
    reading.traits.partials;
  const option = useCallback(
    (inks: Inks) => partialsOption(levelsDb.slice(0, SHOWN_PARTIALS), undefined, inks),
    [levelsDb],
  );
  const shape = nearestShape === 'pulse' ? `pulse, ${Math.round(100 * (pulseWidth ?? 0.5))} % wide` : nearestShape;
  const hollow = oddMinusEvenDb !== null && oddMinusEvenDb > 9;
  return (
    <TraitCard
      title="Partials"
      confidence={confidence}
      doubt={reading.doubts.partials}
      headline={shape === null ? 'no partials found' : `nearest to a ${shape}`}
      meaning={
        shape === null
          ? 'Without a pitch there are no partials to count.'
          : `Start from a ${nearestShape}${hollow ? ': hollow, the odd partials lead' : ''}.${standout.length > 0 ? ` Partial ${standout.slice(0, 3).join(', ')} stands out.` : ''}`
      }
      values={[
        { label: 'Tilt', value: tiltDbPerOctave === null ? null : `${tiltDbPerOctave.toFixed(1)} dB/oct` },
        { label: 'Odd over even', value: show(oddMinusEvenDb, 'dB') },
        { label: 'Inharmonicity', value: inharmonicityWords(inharmonicity) },
        { label: 'Standing out', value: standout.slice(0, 4).join(', ') || null },
      ]}
    >
      <div className="flex h-full flex-col">
        <Chart className="min-h-[110px] grow" option={option} label="Levels of the partials" />
        {levelsDb.length > 0 && <PartialSolo count={levelsDb.length} standout={standout} />}
      </div>
    </TraitCard>
  );
}
