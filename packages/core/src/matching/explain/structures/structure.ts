import { type Evidence, type Hypothesis } from '../hypothesis';
import { FM_PAIR } from '../fm';
import { FORMANTS, TOP_OF_RESONANCES } from '../formants';

/** One way to explain a tone as a whole. */
export interface Structure {
  name: string;
  hypotheses: Hypothesis[];
}

/** What the evidence says, by what structures take of it. */
export interface Said {
  evidence: Evidence;
  sources: Hypothesis[];
  /** Whether they are sines that modulate one another, which nothing plainer would be. */
  isFm: boolean;
  /** Resonances that do not follow the pitch. */
  resonances: Hypothesis[];
  /** All else: level, filter, pitch, movement, dirt, noise, space. */
  around: Hypothesis[];
  /** Of that, what is no filter. */
  unfiltered: Hypothesis[];
  /** Curves that were seen. */
  curves: Hypothesis[];
  /** What is neither a filter nor a curve. */
  unbent: Hypothesis[];
  lowpass: Hypothesis | undefined;
}

/** One kind of structure: none where the evidence does not speak for it, or several. */
export type StructureKind = (said: Said) => Structure[];

/** Whether a hypothesis has one of these names. */
export const is =
  (...names: readonly string[]) =>
  ({ name }: Hypothesis): boolean =>
    names.includes(name);

export const isNot =
  (...names: readonly string[]) =>
  ({ name }: Hypothesis): boolean =>
    !names.includes(name);

/** A multiplied tone is done to sources, and is none. */
const isSource = ({ stage, name }: Hypothesis) => stage === 'sources' && name !== 'ring tone' && name !== 'fast level';

export function sorted(evidence: Evidence, hypotheses: readonly Hypothesis[]): Said {
  const resonances = hypotheses.filter(is(FORMANTS, TOP_OF_RESONANCES));
  const around = hypotheses.filter((hypothesis) => !isSource(hypothesis) && !resonances.includes(hypothesis));
  const sources = hypotheses.filter(isSource);
  const unfiltered = around.filter(({ stage }) => stage !== 'filter');
  const curves = around.filter(is('drive', 'fold'));
  return {
    evidence,
    sources,
    isFm: sources.some(is(FM_PAIR)),
    resonances,
    around,
    unfiltered,
    curves,
    unbent: unfiltered.filter((hypothesis) => !curves.includes(hypothesis)),
    lowpass: around.find(is('low-pass')),
  };
}
