import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

type Part = Reading['traits']['sources']['parts'][number];

const shapeWords = ({ shape, pulseWidth }: Part) =>
  shape === 'pulse' && pulseWidth !== null ? `pulse of ${Math.round(100 * pulseWidth)} %` : shape;

/** Where a part stands, as a tuning that can be set. */
function placeWords(semitones: number): string {
  const whole = Math.round(semitones);
  if (whole === 0) return 'at the pitch';
  const octaves = whole / 12;
  const distance = Number.isInteger(octaves)
    ? `${Math.abs(octaves)} octave${Math.abs(octaves) === 1 ? '' : 's'}`
    : `${Math.abs(Number(semitones.toFixed(1)))} st`;
  return `${distance} ${whole < 0 ? 'below' : 'above'}`;
}

const LOWEST_DB = -50;

/** Plain waveforms that would add up to the tone, as bars of their levels. */
export function SourcesCard({ reading }: { reading: Reading }) {
  const { parts, errorDb, confidence } = reading.traits.sources;
  const [main] = [...parts].sort((a, b) => b.levelDb - a.levelDb);
  return (
    <TraitCard
      title="Sources"
      confidence={confidence}
      doubt={reading.doubts.sources}
      low
      headline={
        parts.length === 0
          ? 'no plain waveforms'
          : parts.map((part) => `${shapeWords(part)} ${placeWords(part.semitones)}`).join(' + ')
      }
      meaning={
        parts.length === 0
          ? 'No sum of plain waveforms behind one low-pass has these partials: a wavetable, FM or a curve made them.'
          : parts.length === 1
            ? `One oscillator with a ${shapeWords(main)} has these partials, behind the filter under Brightness.`
            : `${parts.length} oscillators, tuned and mixed as below, have these partials behind one low-pass.`
      }
      values={[{ label: 'What they leave', value: errorDb === null ? null : `${errorDb.toFixed(1)} dB` }]}
    >
      {parts.length > 0 && (
        <ul className="grid gap-2">
          {parts.map((part) => (
            <li
              key={`${part.shape} ${part.semitones}`}
              className="grid grid-cols-[12rem_1fr_4.5rem] items-center gap-3"
            >
              <span className="text-soft">{`${shapeWords(part)}, ${placeWords(part.semitones)}`}</span>
              <span className="h-[8px] bg-base-300">
                <span
                  className="block h-full bg-reference"
                  style={{ width: `${Math.max(2, 100 * (1 - part.levelDb / LOWEST_DB))}%` }}
                />
              </span>
              <span className="figures text-right">{part.levelDb.toFixed(1)} dB</span>
            </li>
          ))}
        </ul>
      )}
    </TraitCard>
  );
}
