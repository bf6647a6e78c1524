/**
 * What is run often has to be quick. `npm test` takes some rows of a long table and leaves out what takes
 * long beside what it adds; `npm run test:thorough` runs everything.
 */
const isThorough = process.env.THOROUGH === '1';

/** A test, or a group of them, of thorough runs alone. */
export const thorough = { it: isThorough ? it : it.skip, describe: isThorough ? describe : describe.skip };

/** Tests by a table: of so many of its rows, from all over it; of all of them in a thorough run. */
export const some = (most: number) => ({
  it: { each: ((table: readonly unknown[]) => it.each(rowsOf(table, most))) as typeof it.each },
  describe: { each: ((table: readonly unknown[]) => describe.each(rowsOf(table, most))) as typeof describe.each },
});

/** The rows themselves. */
export function rowsOf<T>(table: readonly T[], most: number): readonly T[] {
  const share = (i: number) => Math.floor((i * most) / table.length);
  return isThorough ? table : table.filter((_, i) => i === 0 || share(i) > share(i - 1));
}
