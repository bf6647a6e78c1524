import type { ReactNode } from 'react';

export function Part({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section>
      <h2 className="mb-1 font-bold text-soft">{title}</h2>
      {children}
    </section>
  );
}

export function Tick({ title, ticked, onTurn }: { title: string; ticked: boolean; onTurn: () => void }) {
  return (
    <label className="flex cursor-pointer items-center gap-2 py-px">
      <input type="checkbox" className="checkbox checkbox-xs" checked={ticked} onChange={onTurn} />
      {title}
    </label>
  );
}
