import { Pencil, RotateCcw } from 'lucide-react';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatValue, parseValue } from '@imprint/core/parameters/format';
import { type OverruleName, canOverrule, overrulables, valueAt } from '@imprint/core/reading/hand/overrules';
import type { Overrulable } from '@imprint/core/reading/traits/overrulable';
import { overrule } from '../../stores/cuts';
import { cutOf, readingOf, useStudyStore } from '../../stores/studyStore';

interface OverrulableValueProps {
  name: OverruleName;
  /** The value as the card words it; null when nothing was found. */
  shown: string | null;
}

/**
 * A measured value that can be set by hand; then it is underlined, and the measured one comes back with a
 * click.
 */
export function OverrulableValue({ name, shown }: OverrulableValueProps) {
  const reading = useStudyStore(readingOf);
  const byHand = useStudyStore((state) => cutOf(state)?.overrules[name]);
  const measured = useStudyStore((state) => {
    const own = state.cutId ? state.readings[state.cutId] : undefined;
    return own ? valueAt(own, name) : null;
  });
  const [editing, setEditing] = useState(false);
  const entry: Overrulable = overrulables[name];
  const set = (value: number | null) => void overrule(name, value).catch((error: Error) => toast.error(error.message));
  const value = shown ?? <span className="font-sans text-soft">not found</span>;
  if (!reading || (byHand === undefined && !canOverrule(reading, name))) return value;

  const finish = (text: string) => {
    setEditing(false);
    if (text.trim() === '') return;
    const typed = parseValue(text, entry.unit);
    if (typed === undefined || typed < entry.min || typed > entry.max) {
      toast.error(`${entry.label} is a number from ${entry.min} to ${entry.max} ${entry.unit}`.trim());
      return;
    }
    set(typed);
  };
  if (editing) {
    return (
      <input
        autoFocus
        className="input input-xs w-24 text-right"
        aria-label={`${entry.label}, by hand`}
        defaultValue={shown === null ? '' : formatValue(valueAt(reading, name) ?? 0, entry.unit)}
        onFocus={({ target }) => target.select()}
        onBlur={({ target }) => finish(target.value)}
        onKeyDown={(event) => {
          if (event.key === 'Enter') event.currentTarget.blur();
          if (event.key === 'Escape') setEditing(false);
        }}
      />
    );
  }
  return (
    <span className="group inline-flex items-center gap-1">
      {byHand !== undefined && (
        <button
          type="button"
          className="cursor-pointer text-soft"
          aria-label={`Take the measured ${entry.label.toLowerCase()} again`}
          title={`Set by hand; measured: ${measured === null ? 'nothing' : formatValue(measured, entry.unit)}. Click to take that again.`}
          onClick={() => set(null)}
        >
          <RotateCcw size={11} />
        </button>
      )}
      <button
        type="button"
        className="cursor-pointer"
        aria-label={`Overrule ${entry.label.toLowerCase()}`}
        title="Set it by hand"
        onClick={() => setEditing(true)}
      >
        <span className={byHand === undefined ? '' : 'underline decoration-2 underline-offset-4'}>{value}</span>{' '}
        <Pencil
          size={10}
          className="inline text-soft opacity-40 group-focus-within:opacity-100 group-hover:opacity-100"
        />
      </button>
    </span>
  );
}
