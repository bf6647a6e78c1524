import { formatValue } from '@imprint/core/parameters/format';
import type { Reading } from '@imprint/core/reading/schema';
import { TraitCard } from './TraitCard';

const LOWEST_HZ = 30;
const HIGHEST_HZ = 16000;

/** Place on a log scale of frequency, %. */
const placeOf = (hz: number) =>
  (100 * Math.log(Math.max(LOWEST_HZ, Math.min(HIGHEST_HZ, hz)) / LOWEST_HZ)) / Math.log(HIGHEST_HZ / LOWEST_HZ);

/** How many layers would explain the tone, and where each has its band. */
export function LayersCard({ reading }: { reading: Reading }) {
  const { layers } = reading;
  return (
    <TraitCard
      low
      title="Layers"
      confidence={layers.length > 0 ? 0.6 : 0}
      headline={
        layers.length === 0
          ? 'cannot be told'
          : layers.length === 1
            ? 'one layer would do'
            : `${layers.length} layers: ${layers.map(({ name }) => name).join(', ')}`
      }
      meaning={
        layers.length === 0
          ? 'Layers are suggested from one note: by how its bands come and go, and how wide they are.'
          : layers
              .filter(({ name }) => layers.length === 1 || name !== 'body')
              .map(({ name, reason }) => `${name[0].toUpperCase()}${name.slice(1)}: ${reason}.`)
              .join(' ')
      }
      values={layers.map(({ name, fromHz, toHz }) => ({
        label: name,
        value: `${formatValue(fromHz, 'Hz')}–${formatValue(toHz, 'Hz')}`,
      }))}
    >
      {layers.length > 0 && (
        <ol className="space-y-1" aria-label="Bands of the layers">
          {layers.map(({ name, fromHz, toHz }) => (
            <li key={name} className="relative h-6 bg-base-200">
              <span
                className="absolute inset-y-0 bg-reference/25"
                style={{ left: `${placeOf(fromHz)}%`, width: `${placeOf(toHz) - placeOf(fromHz)}%` }}
              />
              <span className="absolute inset-y-0 px-2 leading-6" style={{ left: `${placeOf(fromHz)}%` }}>
                {name}
              </span>
            </li>
          ))}
        </ol>
      )}
    </TraitCard>
  );
}
