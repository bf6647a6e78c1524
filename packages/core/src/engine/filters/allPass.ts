import { defineFilter, integratorGain } from './filter';
import { forgetSmall } from './stateVariable';

const MAX_STAGES = 12;

const G = 0;
const FEEDBACK = 1;

/**
 * First-order all-passes in a row around the cutoff, with feedback that has no delay in it (Zavalishin, The
 * Art of VA Filter Design, 5). Mixed with what came in, every pair of stages makes one notch.
 */
export const allPass = defineFilter<Float64Array>({
  createState: () => new Float64Array(MAX_STAGES),
  clear: (state) => void state.fill(0),
  tune({ spec, slots }, values, { cutoffHz, sampleRateHz }, out) {
    const sign = 'polarity' in spec && spec.polarity === 'negative' ? -1 : 1;
    out[G] = integratorGain(cutoffHz, sampleRateHz);
    out[FEEDBACK] = (sign * values[slots.feedback]) / 100;
  },
  run(s, { spec }, signal, from, to, at, step) {
    const stages = 'stages' in spec ? Math.min(MAX_STAGES, Math.round(spec.stages)) : 2;
    let g = at[G];
    let feedback = at[FEEDBACK];
    for (let i = from; i < to; i++) {
      const share = g / (1 + g);
      const through = 2 * share - 1;
      const kept = 2 / (1 + g);
      let rest = 0;
      let gain = 1;
      for (let n = 0; n < stages; n++) {
        rest = through * rest + kept * s[n];
        gain *= through;
      }
      let x = (signal[i] + feedback * rest) / (1 - feedback * gain);
      for (let n = 0; n < stages; n++) {
        const v = share * (x - s[n]);
        const low = v + s[n];
        s[n] = low + v;
        x = 2 * low - x;
      }
      signal[i] = x;
      g += step[G];
      feedback += step[FEEDBACK];
    }
    for (let n = 0; n < stages; n++) s[n] = forgetSmall(s[n]);
  },
});
