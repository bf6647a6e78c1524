import { formatValue } from '../parameters/format';
import { everyComparison } from './compared';
import type { Gap } from './gaps';

/** What a gap says in words, and what closes it. */
export interface GapAdvice {
  sentence: string;
  closes: string;
}

/** A gap as a sentence: what is heard, both values, and the control that closes it. */
export function adviceFor({ trait, reference, proof }: Gap): GapAdvice {
  const compared = everyComparison.find((one) => one.trait === trait);
  if (!compared) throw new Error(`Nothing is called "${trait}" that could be compared.`);
  const wording = typeof compared.wording === 'function' ? compared.wording(reference, proof) : compared.wording;
  if (reference === null || proof === null) return { sentence: `${wording.more}.`, closes: wording.closes };
  const show = (value: number) => formatValue(value, compared.unit);
  const heard = proof > reference ? wording.more : wording.less;
  return {
    sentence: `${heard}: ${show(reference)} in the reference, ${show(proof)} in the patch.`,
    closes: wording.closes,
  };
}
