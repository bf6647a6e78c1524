/**
 * Leads from where the output stood to where it goes on, so that what is taken away at once makes no click.
 */
export interface OutputJoin {
  /** Has the next block joined to the one before. */
  begin(): void;
  /** Takes a look at a block of both sides, and joins it where that was asked for. */
  run(left: Float64Array, right: Float64Array): void;
}

export function createOutputJoin(): OutputJoin {
  const last = { left: 0, right: 0 };
  let joining = false;
  return {
    begin: () => void (joining = true),
    run(left, right) {
      const offL = last.left - left[0];
      const offR = last.right - right[0];
      for (let i = 0; joining && i < left.length; i++) {
        const share = 1 - i / left.length;
        left[i] += share * offL;
        right[i] += share * offR;
      }
      joining = false;
      last.left = left[left.length - 1];
      last.right = right[right.length - 1];
    },
  };
}
