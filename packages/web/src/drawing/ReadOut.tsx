/** What is under the pointer, written into the corner of a drawing. */
export function ReadOut({ text }: { text: string | undefined }) {
  if (text === undefined) return null;
  return (
    <output className="figures pointer-events-none absolute top-0 right-1 bg-base-100/80 px-1 text-2xs" aria-live="off">
      {text}
    </output>
  );
}
