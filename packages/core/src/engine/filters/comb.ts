import type { Filter } from '../../patch/schema';
import { defineFilter } from './filter';
import { forgetSmall } from './stateVariable';

/** Lowest pitch of the comb. */
const MIN_HZ = 20;
/** A four-point read needs two samples before it. */
const MIN_DELAY = 2;

const DELAY = 0;
const FEEDBACK = 1;
const LEVEL = 2;

interface CombState {
  line: Float64Array;
  /** Where the next sample is written; a field of an object, so that it stays a plain number. */
  write: number;
}

const signOf = (spec: Filter) => ('polarity' in spec && spec.polarity === 'negative' ? -1 : 1);

/**
 * A feedback comb tuned to the cutoff: y[n] = x[n] ± f·y[n − rate/cutoff]. Positive feedback rings on all
 * partials of that pitch, negative on the odd ones of the octave below. White noise keeps its level, as the
 * input is scaled by √(1 − f²).
 */
export const comb = defineFilter<CombState>({
  createState: (sampleRateHz) => ({ line: new Float64Array(Math.ceil(sampleRateHz / MIN_HZ) + 8), write: 0 }),
  clear(state) {
    state.line.fill(0);
    state.write = 0;
  },
  tune({ slots }, values, { cutoffHz, sampleRateHz }, out) {
    const feedback = values[slots.feedback] / 100;
    out[DELAY] = Math.max(MIN_DELAY, sampleRateHz / Math.max(MIN_HZ, cutoffHz));
    out[FEEDBACK] = feedback;
    out[LEVEL] = Math.sqrt(1 - feedback * feedback);
  },
  run(state, { spec }, signal, from, to, at, step) {
    const { line } = state;
    const size = line.length;
    const sign = signOf(spec);
    let delay = at[DELAY];
    let feedback = at[FEEDBACK];
    let level = at[LEVEL];
    let { write } = state;
    for (let i = from; i < to; i++) {
      // Four-point Lagrange between the samples around the delay (Laakso et al. 1996, "Splitting the unit
      // delay").
      const whole = Math.floor(delay);
      const d = delay - whole + 1;
      let k = write - whole + 1;
      if (k < 0) k += size;
      else if (k >= size) k -= size;
      const x0 = line[k];
      const x1 = line[k === 0 ? size - 1 : k - 1];
      const x2 = line[k < 2 ? k + size - 2 : k - 2];
      const x3 = line[k < 3 ? k + size - 3 : k - 3];
      const read =
        (-x0 * (d - 1) * (d - 2) * (d - 3)) / 6 +
        (x1 * d * (d - 2) * (d - 3)) / 2 -
        (x2 * d * (d - 1) * (d - 3)) / 2 +
        (x3 * d * (d - 1) * (d - 2)) / 6;
      const y = level * signal[i] + sign * feedback * read;
      line[write] = forgetSmall(y);
      if (++write === size) write = 0;
      signal[i] = y;
      delay += step[DELAY];
      feedback += step[FEEDBACK];
      level += step[LEVEL];
    }
    state.write = write;
  },
});
