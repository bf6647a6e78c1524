import type { ReactNode } from 'react';

/** A designed empty, loading or failed state in the middle of a screen: what is, and what to do next. */
export function Message({ title, children, action }: { title: string; children?: ReactNode; action?: ReactNode }) {
  return (
    <div className="flex h-full items-center justify-center p-8">
      <div className="max-w-md border-l-4 border-base-content pl-5">
        <h2 className="title text-xl">{title}</h2>
        <div className="mt-2 space-y-2 text-soft">{children}</div>
        {action && <div className="mt-4 flex items-center gap-3">{action}</div>}
      </div>
    </div>
  );
}
