import { toast } from 'sonner';
import { parseValue } from '@imprint/core/parameters/format';
import { type Isolation, NO_ISOLATION, isolates } from '@imprint/core/reading/isolation/settings';
import { HeardPart } from '../../components/HeardPart';
import { setIsolation } from '../../stores/cuts';
import { cutOf, readingOf, useStudyStore } from '../../stores/studyStore';

const DEFAULT_BAND = { fromHz: 100, toHz: 4000 };
const DEFAULT_RANGE = { kind: 'range', fromPan: -30, toPan: 30 } as const;

const places = { all: 'everything', mid: 'the middle', side: 'the sides', range: 'a range' } as const;
const characters = { all: 'everything', tonal: 'what is tonal', percussive: 'what is percussive' } as const;

/** What of the chosen cut is kept, and both parts to listen to. The reference itself is never touched. */
export function IsolationPanel() {
  const cut = useStudyStore(cutOf);
  const hasNotes = useStudyStore((state) => (cutOf(state)?.notes ?? readingOf(state)?.notes ?? []).length > 0);
  if (!cut) return null;
  const isolation = cut.isolation ?? NO_ISOLATION;
  const change = (changes: Partial<Isolation>) =>
    void setIsolation({ ...isolation, ...changes }).catch((error: Error) => toast.error(error.message));
  const { band, place, character, partialsOnly, withSub, hitsDown } = isolation;
  return (
    <section aria-label="Isolation" className="mt-6">
      <h2 className="font-bold text-soft">Keep of {cut.name}</h2>
      {/* Never disabled: what loses the focus while a value is typed would give Enter to the page. */}
      <div className="mt-2 space-y-[6px]">
        <div className="flex items-center justify-between gap-2">
          <label className="flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={band !== null}
              onChange={({ target }) => change({ band: target.checked ? DEFAULT_BAND : null })}
            />
            Band
          </label>
          {band && (
            <span className="flex items-center gap-1">
              <NumberField
                label="Lower edge"
                unit="Hz"
                value={band.fromHz}
                onChange={(fromHz) => change({ band: { ...band, fromHz } })}
              />
              –
              <NumberField
                label="Upper edge"
                unit="Hz"
                value={band.toHz}
                onChange={(toHz) => change({ band: { ...band, toHz } })}
              />
            </span>
          )}
        </div>
        <Choice
          label="Place"
          options={places}
          value={place.kind}
          onChange={(kind) => change({ place: kind === 'range' ? DEFAULT_RANGE : { kind } })}
        />
        {place.kind === 'range' && (
          <p className="flex items-center justify-end gap-1">
            <NumberField
              label="Left end of the range"
              value={place.fromPan}
              onChange={(fromPan) => change({ place: { ...place, fromPan } })}
            />
            –
            <NumberField
              label="Right end of the range"
              value={place.toPan}
              onChange={(toPan) => change({ place: { ...place, toPan } })}
            />
          </p>
        )}
        <Choice label="Kind" options={characters} value={character} onChange={(kind) => change({ character: kind })} />
        <label
          className="flex items-center gap-2"
          title={hasNotes ? undefined : 'Measure the cut first: its notes are not known yet.'}
        >
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={partialsOnly}
            disabled={!hasNotes && !partialsOnly}
            onChange={({ target }) => change({ partialsOnly: target.checked })}
          />
          <span className={hasNotes ? '' : 'text-soft'}>Only the partials of its notes</span>
        </label>
        {partialsOnly && (
          <label className="ml-5 flex items-center gap-2">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={withSub ?? false}
              onChange={({ target }) => change({ withSub: target.checked })}
            />
            and a sub an octave under them
          </label>
        )}
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={hitsDown}
            onChange={({ target }) => change({ hitsDown: target.checked })}
          />
          Hits under the tone taken down
        </label>
      </div>
      {isolates(isolation) && <HeardPart />}
    </section>
  );
}

interface ChoiceProps<T extends string> {
  label: string;
  options: Record<T, string>;
  value: T;
  onChange(value: T): void;
}

function Choice<T extends string>({ label, options, value, onChange }: ChoiceProps<T>) {
  return (
    <label className="flex items-center justify-between gap-2">
      {label}
      <select className="select select-xs w-36" value={value} onChange={({ target }) => onChange(target.value as T)}>
        {(Object.entries(options) as [T, string][]).map(([key, name]) => (
          <option key={key} value={key}>
            {name}
          </option>
        ))}
      </select>
    </label>
  );
}

interface NumberFieldProps {
  label: string;
  unit?: 'Hz';
  value: number;
  onChange(value: number): void;
}

/** A number that is taken over when it has been typed. */
function NumberField({ label, unit, value, onChange }: NumberFieldProps) {
  const commit = (input: HTMLInputElement) => {
    const typed = parseValue(input.value, unit ?? '');
    if (typed === undefined) input.value = String(value);
    else if (typed !== value) onChange(typed);
  };
  return (
    <input
      key={value}
      className="input input-xs figures w-[58px] text-right"
      aria-label={label}
      defaultValue={value}
      onBlur={({ currentTarget }) => commit(currentTarget)}
      onKeyDown={({ key, currentTarget }) => key === 'Enter' && currentTarget.blur()}
    />
  );
}
