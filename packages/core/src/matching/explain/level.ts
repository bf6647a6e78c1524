import { parameterTable } from '../../parameters/table';
import { DECAY_TAUS, RELEASE_TAUS } from '../../patch/envelopeCurve';
import type { FittedContour } from '../../reading/level/fittedContour';
import type { Measurement } from '../../reading/read';
import { type Evidence, type Explainer, type Hypothesis, freedoms, short } from './hypothesis';
import { envelopeFrom } from '../filterContour';

export const AMP_CONTOUR = 'amp contour';
/** Less of a fall is none. */
const FALLS_DB = -0.5;
/** Within a fraction of a period a level cannot be told from the waveform. */
const ATTACK_PERIODS = 0.12;

/** A sound that is let go so slowly goes on falling as it did. */
export const SLOW_RELEASE_SECONDS = 0.3;

/** The level as one fall to nothing: what looks like its end may be that of something shorter in it. */
export function explainOneFall({ note }: Evidence): Hypothesis[] {
  const { sustainDb, releaseSeconds } = note.fitted;
  if (releaseSeconds === null || releaseSeconds < SLOW_RELEASE_SECONDS || sustainDb > FALLS_DB) return [];
  const seconds = (releaseSeconds / RELEASE_TAUS) * DECAY_TAUS;
  return [
    {
      name: AMP_CONTOUR,
      stage: 'level',
      confidence: 0.5,
      why: `the level falls all the way, by as much as after its end: within ${short(seconds)} s`,
      apply: (layer) => {
        const fall = { attackSeconds: 0.002, holdSeconds: 0, decaySeconds: seconds, sustainDb: -96, releaseSeconds };
        layer.amp = { ...layer.amp, ...fall };
      },
      freedoms: freedoms('amp', 'level', { attackSeconds: 0.03, decaySeconds: 0.03, releaseSeconds: 0.03 }),
      brings: [],
    },
  ];
}

/** The level over time, as one envelope. */
export const explainLevel: Explainer = ({ note }) => [levelHypothesis(note.fitted, note.fundamental)];

/** A fitted contour as the layer's own. */
export function levelHypothesis(fitted: FittedContour, fundamental: Measurement['fundamental']): Hypothesis {
  const amp = envelopeFrom('amp', 'Amp contour', fitted);
  if (fundamental) {
    const least = Math.min(0.004, ATTACK_PERIODS / fundamental.f0Hz);
    amp.attackSeconds = Math.max(amp.attackSeconds, least);
  }
  const falls = amp.sustainDb < FALLS_DB;
  return {
    name: AMP_CONTOUR,
    stage: 'level',
    confidence: 1,
    why: `the level rises in ${short(amp.attackSeconds)} s${falls ? `, falls within ${short(amp.decaySeconds)} s to ${short(Math.max(parameterTable.envelope.sustainDb.min, amp.sustainDb))} dB` : ' and stays'}`,
    apply: (layer) => {
      layer.amp = { ...layer.amp, ...amp };
    },
    freedoms: freedoms('amp', 'level', {
      attackSeconds: 0.03,
      ...(falls ? { decaySeconds: 0.03, sustainDb: 0.02 } : {}),
      ...(amp.holdSeconds > 0.01 ? { holdSeconds: 0.03 } : {}),
      releaseSeconds: 0.03,
    }),
    brings: [],
  };
}
