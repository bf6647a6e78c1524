import type { Unshown } from '../api/client';

/** Names what a list cannot show, so that it is not hidden by what is wrong with it. */
export function Unshowable({ rows, what }: { rows: readonly Unshown[]; what: string }) {
  if (rows.length === 0) return null;
  return (
    <div role="alert" className="mt-5 border-l-4 border-base-content bg-base-200 px-4 py-3">
      <p>
        {rows.length === 1 ? `One ${what} cannot` : `${rows.length} of these cannot`} be shown by this page. Nothing of
        it is lost; reload the page, and update Imprint if that does not help.
      </p>
      <ul className="mt-1 list-disc pl-5">
        {rows.map(({ id, title }) => (
          <li key={id}>{title.trim() || `without a name (${id})`}</li>
        ))}
      </ul>
    </div>
  );
}
