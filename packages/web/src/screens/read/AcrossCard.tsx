import { useMemo } from 'react';
import { formatValue } from '@imprint/core/parameters/format';
import { type AcrossCuts, traitsAcross } from '@imprint/core/reading/cuts/acrossCuts';
import { useStudyStore } from '../../stores/studyStore';
import { TraitCard } from './TraitCard';

/** What the notes of several cuts tell together: what follows the key, and what differs from note to note. */
export function AcrossCard() {
  const readings = useStudyStore((state) => state.readings);
  const cuts = useStudyStore((state) => state.cuts);
  const across = useMemo(() => traitsAcross(cuts.flatMap(({ id }) => readings[id] ?? [])), [cuts, readings]);
  const { noteCount, keyTrackingPercent, levelPerOctaveDb, levelScatterDb, varying } = across;
  return (
    <TraitCard
      title="Across the cuts"
      confidence={noteCount < 2 ? 0 : Math.min(1, noteCount / 4)}
      headline={
        keyTrackingPercent !== null
          ? `the filter follows the key by ${Math.round(keyTrackingPercent)} %`
          : noteCount < 2
            ? 'one note tells nothing of others'
            : `${noteCount} notes`
      }
      meaning={meaningOf(across)}
      values={[
        { label: 'Single notes', value: String(noteCount) },
        { label: 'Key tracking', value: keyTrackingPercent === null ? null : `${Math.round(keyTrackingPercent)} %` },
        { label: 'Level per octave', value: levelPerOctaveDb === null ? null : formatValue(levelPerOctaveDb, 'dB') },
        { label: 'Uneven by', value: levelScatterDb === null ? null : `${levelScatterDb.toFixed(1)} dB` },
        ...varying.map(({ trait, scatter, unit }) => ({
          label: `Same key, other ${trait}`,
          value: unit === '%' ? `±${Math.round(scatter)} %` : `±${scatter.toFixed(unit === 'octaves' ? 2 : 1)} ${unit}`,
        })),
      ]}
    />
  );
}

function meaningOf({ noteCount, rangeOctaves, keyTrackingPercent, varying }: AcrossCuts): string {
  if (noteCount < 2) {
    return 'Cut a second note of this tone, at another key, and measure all cuts: then it shows what follows the key.';
  }
  const words = [
    keyTrackingPercent === null
      ? rangeOctaves < 0.4
        ? 'The notes are too near to one another to tell what follows the key.'
        : 'No filter was found that could follow the key.'
      : `Set the filter’s key tracking to about ${Math.round(keyTrackingPercent)} %.`,
    varying.length > 0 &&
      `Notes of one key differ in ${varying.map(({ trait }) => trait).join(', ')}: a per-note random value, or velocity.`,
  ];
  return words.filter(Boolean).join(' ');
}
