import type { Source } from '@imprint/core/patch/schema';
import { MAX_PARTIALS } from '@imprint/core/patch/schemas/sourceSchema';
import type { Reading } from '@imprint/core/reading/schema';

type PartialsSource = Extract<Source, { kind: 'partials' }>;

interface PartialToolsProps {
  source: PartialsSource;
  reading: Reading;
  onChange: (fields: Partial<PartialsSource>) => void;
}

const FLOOR_DB = -96;
const STEP_DB = 1.5;

/**
 * Changes of all partials at once: their number, tilt, odd against even, and taking over what was measured.
 */
export function PartialTools({ source, reading, onChange }: PartialToolsProps) {
  const { levelsDb } = source;
  const measured = reading.traits.partials.levelsDb;
  const setLevels = (change: (levelDb: number, n: number) => number) =>
    onChange({
      levelsDb: levelsDb.map((level, i) =>
        level <= FLOOR_DB ? level : Math.min(0, Math.max(FLOOR_DB, change(level, i + 1))),
      ),
    });
  const tool = (title: string, action: () => void, label = title) => (
    <button key={title} type="button" className="btn btn-xs btn-outline font-normal" title={label} onClick={action}>
      {title}
    </button>
  );
  return (
    <div className="flex flex-wrap items-center gap-2 pb-2">
      <label className="flex items-center gap-1 text-soft">
        Partials
        <input
          type="number"
          className="input input-xs figures w-16"
          min={1}
          max={MAX_PARTIALS}
          value={levelsDb.length}
          onChange={({ target }) => {
            const count = Math.max(1, Math.min(MAX_PARTIALS, Math.round(Number(target.value)) || 1));
            onChange({ levelsDb: Array.from({ length: count }, (_, i) => levelsDb[i] ?? FLOOR_DB) });
          }}
        />
      </label>
      {tool('darker', () => setLevels((db, n) => db - STEP_DB * Math.log2(n)), 'Tilt by −1.5 dB per octave')}
      {tool('brighter', () => setLevels((db, n) => db + STEP_DB * Math.log2(n)), 'Tilt by +1.5 dB per octave')}
      {tool('more hollow', () => setLevels((db, n) => (n % 2 === 0 ? db - STEP_DB : db)), 'Even partials 1.5 dB down')}
      {tool('less hollow', () => setLevels((db, n) => (n % 2 === 0 ? db + STEP_DB : db)), 'Even partials 1.5 dB up')}
      {tool('phases to 0', () => onChange({ phasesCycles: [] }), 'All partials start at zero and rise')}
      {tool(
        'phases by chance',
        () => onChange({ phasesCycles: levelsDb.map((_, i) => (i * 0.61803 * (i + 1)) % 1) }),
        'Spread phases: a lower peak at the same level',
      )}
      {measured.length > 0 &&
        tool(
          'as measured',
          () =>
            onChange({ levelsDb: measured.slice(0, MAX_PARTIALS).map((db) => Math.max(FLOOR_DB, Math.min(0, db))) }),
          'Take over the reference’s partials',
        )}
    </div>
  );
}
