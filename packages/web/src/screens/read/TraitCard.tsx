import type { ReactNode } from 'react';
import type { WantedEvidence } from '@imprint/core/reading/evidence';
import type { OverruleName } from '@imprint/core/reading/hand/overrules';
import type { Reading } from '@imprint/core/reading/schema';
import { EvidenceButton } from './EvidenceButton';
import { OverrulableValue } from './OverrulableValue';

/** One measured value: its name, the value with its unit, and what it can be overruled as. */
export interface TraitValue {
  label: string;
  value: string | null;
  overrule?: OverruleName;
}

interface TraitCardProps {
  title: string;
  confidence: number;
  /** Why it is not sure. */
  doubt?: Reading['doubts'][keyof Reading['doubts']];
  /** The one value that matters most. */
  headline: string;
  values: TraitValue[];
  /** What it means in synthesizer terms. */
  meaning: string;
  /** What can be listened to alone, and what it is called. */
  evidence?: { wanted: WantedEvidence; label: string };
  /** The plot, if there is one. */
  children?: ReactNode;
  /** Its plot needs no height of its own. */
  low?: boolean;
}

/** A group of traits: the headline, a plot, the values and how sure they are. */
export function TraitCard({
  title,
  confidence,
  doubt,
  headline,
  values,
  meaning,
  evidence,
  children,
  low = false,
}: TraitCardProps) {
  return (
    <section
      aria-label={title}
      className={`hairline-b hairline-r flex min-w-0 flex-col p-4 ${children && !low ? 'min-h-[50cqh]' : ''}`}
    >
      <header className="flex items-center justify-between gap-3">
        <h2 className="title text-lg">{title}</h2>
        <span className="grow" />
        {evidence && <EvidenceButton {...evidence} />}
        <Confidence value={confidence} />
      </header>
      <p className="figures mt-1 text-xl font-semibold text-reference-text">{headline}</p>
      <p className="mt-1 min-h-[2.8em] text-soft">{meaning}</p>
      {doubt && <p className="mt-1 border-l-2 border-base-content pl-2 text-2xs">Not sure: {doubt}.</p>}
      {children && (
        <div className={`mt-2 grow ${low ? '' : 'min-h-[108px] basis-[108px] overflow-hidden'}`}>{children}</div>
      )}
      <dl className="mt-2 grid grid-cols-2 gap-x-6 gap-y-[2px]">
        {values.map(({ label, value, overrule }) => (
          <div key={label} className="flex justify-between gap-2">
            <dt className="text-soft">{label}</dt>
            <dd className="figures text-right">
              {overrule ? (
                <OverrulableValue name={overrule} shown={value} />
              ) : (
                (value ?? <span className="font-sans text-soft">not found</span>)
              )}
            </dd>
          </div>
        ))}
      </dl>
    </section>
  );
}

/** 0..1 as a short bar and a word. */
function Confidence({ value }: { value: number }) {
  const word = value >= 0.9 ? 'sure' : value >= 0.6 ? 'fairly sure' : value > 0 ? 'unsure' : 'nothing found';
  return (
    <span className="flex items-center gap-2 text-2xs text-soft" title={`Confidence ${Math.round(100 * value)} %`}>
      {word}
      <span className="h-[5px] w-10 bg-base-300">
        <span className="block h-full bg-base-content" style={{ width: `${100 * value}%` }} />
      </span>
    </span>
  );
}
