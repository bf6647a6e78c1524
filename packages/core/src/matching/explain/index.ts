import { explainDirt } from './dirt';
import { explainFilter, explainSecondFilter } from './filter';
import { explainFm } from './fm';
import { explainFormants } from './formants';
import type { Evidence, Explainer, Hypothesis } from './hypothesis';
import { explainLevel } from './level';
import { explainMotion } from './motion';
import { explainNoise } from './noise';
import { explainPitchMovement } from './pitchMovement';
import { explainRing } from './ring';
import { explainSources } from './sources';
import { explainSpace } from './space';
import { explainWidth } from './width';

/** Every kind of evidence, in the order of the signal: sources come first, effects last. */
const explainers: readonly Explainer[] = [
  explainSources,
  explainFm,
  explainRing,
  explainLevel,
  explainFilter,
  explainSecondFilter,
  explainPitchMovement,
  explainNoise,
  explainDirt,
  explainMotion,
  explainFormants,
  explainWidth,
  explainSpace,
];

/** Everything that the evidence says a patch should have. */
export const explain = (evidence: Evidence): Hypothesis[] => explainers.flatMap((explainer) => explainer(evidence));
