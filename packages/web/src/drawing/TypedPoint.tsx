import { useState } from 'react';
import type { Axis } from './axis';

interface TypedPointProps {
  /** What is typed, in order: what it is called, its axis, and where it stands now. */
  fields: readonly { label: string; axis: Axis; value: number }[];
  /** What has been typed of the first before they opened. */
  begun?: string;
  onDone: (values: number[]) => void;
  onCancel: () => void;
}

/** Small fields over a drawing in which the place of a point is typed with its units. */
export function TypedPoint({ fields, begun, onDone, onCancel }: TypedPointProps) {
  const [texts, setTexts] = useState(() => fields.map(({ axis, value }, i) => (i === 0 && begun) || axis.text(value)));
  const read = fields.map(({ axis }, i) => axis.parse(texts[i]));
  const take = () => {
    if (read.every((value) => value !== undefined)) onDone(read);
  };
  return (
    <form
      className="absolute top-1 right-1 z-10 flex gap-1 bg-base-100 p-1 shadow"
      onSubmit={(event) => {
        event.preventDefault();
        take();
      }}
    >
      {fields.map(({ label }, i) => (
        <input
          key={label}
          className={`input input-xs figures w-24 ${read[i] === undefined ? 'input-error' : ''}`}
          aria-label={label}
          aria-invalid={read[i] === undefined}
          autoFocus={i === 0}
          value={texts[i]}
          onFocus={({ target }) => !(i === 0 && begun) && target.select()}
          onBlur={({ target, relatedTarget }) => !target.form?.contains(relatedTarget) && onCancel()}
          onChange={({ target }) => setTexts(texts.with(i, target.value))}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Escape') onCancel();
          }}
        />
      ))}
      <button type="submit" className="btn btn-xs">
        Set
      </button>
    </form>
  );
}
