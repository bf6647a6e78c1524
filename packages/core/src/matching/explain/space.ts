import { heldGainDb } from '../../engine/effects/space/reverb';
import { effectSchema } from '../../patch/schemas/effectSchema';
import { type Explainer, type Hypothesis, freedoms, short } from './hypothesis';

/** Without so much of a room there is none to set. */
const LEAST_RT60_SECONDS = 0.12;
/** Where a room is set by hand, and nothing says how loud it is. */
const USUAL_MIX = 25;

/** Of a mix that fades from dry to wet, how much is wet where the wet is so much louder than the dry. */
function wetShare(db: number): number {
  const gain = 10 ** (db / 20);
  return gain / (1 + gain);
}

/** Echoes and a room behind the tone. */
export const explainSpace: Explainer = ({ note, bpm }) => {
  const { space } = note.reading.traits;
  const found: Hypothesis[] = [];
  const { echo, rt60Seconds, preDelaySeconds, roomDb } = space;
  if (echo) {
    const inTime = echo.division !== null && bpm !== null;
    found.push({
      name: 'echo',
      stage: 'space',
      confidence: space.confidence,
      why: `the tone comes back every ${short(echo.seconds)} s${inTime ? ` (${echo.division})` : ''}, first ${short(-echo.levelDb)} dB softer, then each time at ${short(100 * echo.feedback)} %${echo.changesSides ? ', from either side by turns' : ''}`,
      apply: (layer) => {
        const seconds = Math.min(4, Math.max(0.0001, echo.seconds));
        layer.effects.push(
          effectSchema.parse({
            kind: 'delay',
            id: 'echo',
            leftSeconds: seconds,
            rightSeconds: seconds,
            leftDivision: inTime ? echo.division : null,
            rightDivision: inTime ? echo.division : null,
            feedback: Math.max(0, Math.min(95, 100 * echo.feedback)),
            pingPong: echo.changesSides,
            mix: 100 * wetShare(echo.levelDb),
          }),
        );
      },
      freedoms: freedoms('echo', 'space', { mix: 0.08, feedback: 0.04 }),
      brings: ['echo'],
    });
  }
  if (rt60Seconds !== null && rt60Seconds >= LEAST_RT60_SECONDS) {
    found.push({
      name: 'room',
      stage: 'space',
      confidence: space.confidence,
      why: `it dies away over ${short(rt60Seconds)} s (RT60) behind its own release${roomDb === null ? '' : `, ${short(roomDb)} dB against the tone`}`,
      apply: (layer) => {
        layer.effects.push(
          effectSchema.parse({
            kind: 'reverb',
            id: 'room',
            rt60Seconds: Math.min(30, Math.max(0.1, rt60Seconds)),
            preDelaySeconds: Math.min(0.3, preDelaySeconds ?? 0),
            mix: roomDb === null ? USUAL_MIX : 100 * wetShare(roomDb - heldGainDb({ rt60Seconds })),
          }),
        );
      },
      freedoms: freedoms('room', 'space', { mix: 0.1, rt60Seconds: 0.04 }),
      brings: ['room'],
    });
  }
  return found;
};
