import { parameterTable } from '../../parameters/table';
import { type Explainer, freedoms, short } from './hypothesis';
import { envelopeFrom } from '../filterContour';

/** Within a fraction of a period a level cannot be told from the waveform. */
const ATTACK_PERIODS = 0.12;

/** The level over time, as one envelope. */
export const explainLevel: Explainer = ({ note }) => {
  const { fitted, fundamental } = note;
  const amp = envelopeFrom('amp', 'Amp contour', fitted);
  if (fundamental) {
    const least = Math.min(0.004, ATTACK_PERIODS / fundamental.f0Hz);
    amp.attackSeconds = Math.max(amp.attackSeconds, least);
  }
  const falls = amp.sustainDb < -0.5;
  return [
    {
      name: 'amp contour',
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
    },
  ];
};
