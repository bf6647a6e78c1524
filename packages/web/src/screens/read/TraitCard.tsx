import type { ReactNode } from 'react';

/** One measured value: its name, the value with its unit. */
export interface TraitValue {
  label: string;
  value: string | null;
}

interface TraitCardProps {
  title: string;
  confidence: number;
  /** The one value that matters most. */
  headline: string;
  values: TraitValue[];
  /** What it means in synthesizer terms. */
  meaning: string;
  /** The plot, if there is one. */
  children?: ReactNode;
}

/** A group of traits: the headline, a plot, the values and how sure they are. */
export function TraitCard({ title, confidence, headline, values, meaning, children }: TraitCardProps) {
  return (
    <section
      aria-label={title}
      className={`hairline-b hairline-r flex min-w-0 flex-col p-4 ${children ? 'min-h-[50cqh]' : ''}`}
    >
      <header className="flex items-baseline justify-between gap-3">
        <h2 className="title text-lg">{title}</h2>
        <Confidence value={confidence} />
      </header>
      <p className="figures mt-1 text-xl font-semibold text-reference-text">{headline}</p>
      <p className="mt-1 min-h-[2.8em] text-soft">{meaning}</p>
      {children && <div className="mt-2 min-h-[130px] grow">{children}</div>}
      <dl className="mt-2 grid grid-cols-2 gap-x-6 gap-y-[2px]">
        {values.map(({ label, value }) => (
          <div key={label} className="flex justify-between gap-2">
            <dt className="text-soft">{label}</dt>
            <dd className="figures text-right">{value ?? <span className="font-sans text-soft">not found</span>}</dd>
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
