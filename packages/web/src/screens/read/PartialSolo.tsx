import { Minus, Plus } from 'lucide-react';
import { useState } from 'react';
import { hearEvidence, useEvidence } from '../../stores/evidenceStore';
import { EvidenceButton } from './EvidenceButton';

interface PartialSoloProps {
  count: number;
  /** Numbers of the partials that stand out from their neighbours. */
  standout: readonly number[];
}

const SHOWN_STANDOUT = 4;

/** Hears one partial alone, to find which one whistles: while one plays, the others come by stepping. */
export function PartialSolo({ count, standout }: PartialSoloProps) {
  const [partial, setPartial] = useState(standout[0] ?? 1);
  const playing = useEvidence(({ heard }) => heard?.kind === 'partial');
  const choose = (number: number) => {
    const next = Math.max(1, Math.min(count, number));
    setPartial(next);
    if (playing && next !== partial) void hearEvidence({ kind: 'partial', partial: next });
  };
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1" role="group" aria-label="Hear one partial">
      <button
        type="button"
        className="btn btn-xs btn-ghost btn-square"
        aria-label="Partial below"
        onClick={() => choose(partial - 1)}
      >
        <Minus size={12} />
      </button>
      <input
        className="input input-xs figures w-12 text-center"
        aria-label="Number of the partial"
        inputMode="numeric"
        value={partial}
        onChange={({ target }) => choose(Number(target.value) || 1)}
        onKeyDown={(event) => {
          if (event.key === 'ArrowUp') choose(partial + 1);
          if (event.key === 'ArrowDown') choose(partial - 1);
        }}
      />
      <button
        type="button"
        className="btn btn-xs btn-ghost btn-square"
        aria-label="Partial above"
        onClick={() => choose(partial + 1)}
      >
        <Plus size={12} />
      </button>
      <EvidenceButton wanted={{ kind: 'partial', partial }} label="This one alone" />
      {standout.slice(0, SHOWN_STANDOUT).map((number) => (
        <button
          key={number}
          type="button"
          className="btn btn-xs btn-ghost figures font-normal"
          title={`Partial ${number} stands out from its neighbours`}
          onClick={() => choose(number)}
        >
          {number}
        </button>
      ))}
    </div>
  );
}
