import { parametersOf } from '../../parameters/table';
import { filterSchema } from '../../patch/shapingSchema';
import { type FilterProgram, MAX_COEFFICIENTS } from './filter';
import { filterModels } from './index';

const RATE = 44100;

const noSteps = new Float64Array(MAX_COEFFICIENTS);

/** A filter by itself, with values that can be moved from sample to sample. */
function filterOf(fields: Record<string, unknown>) {
  const spec = filterSchema.parse({ id: 'f', ...fields });
  const names = Object.keys(parametersOf(spec.kind));
  const program: FilterProgram = { spec, slots: Object.fromEntries(names.map((name, i) => [name, i])) };
  const values = Float64Array.from(names, (name) => (spec as unknown as Record<string, number>)[name]);
  const model = filterModels[spec.kind];
  const channel = model.createChannel(RATE);
  const coefficients = new Float64Array(MAX_COEFFICIENTS);
  return {
    spec,
    run(signal: Float64Array, cutoffHz = 'cutoffHz' in spec ? spec.cutoffHz : 0) {
      model.tune(program, values, { cutoffHz, sampleRateHz: RATE }, coefficients);
      for (let at = 0; at < signal.length; at += 64) {
        channel.run(program, signal, at, Math.min(signal.length, at + 64), coefficients, noSteps, false);
      }
    },
    sample(x: number, cutoffHz: number): number {
      const one = Float64Array.of(x);
      model.tune(program, values, { cutoffHz, sampleRateHz: RATE }, coefficients);
      channel.run(program, one, 0, 1, coefficients, noSteps, true);
      return one[0];
    },
  };
}

describe('The ladder', () => {
  it('rings by itself from k = 4 on, at the cutoff (Stilson & Smith 1996)', () => {
    const tail = (resonance: number) => {
      const signal = new Float64Array(2 * RATE);
      signal[0] = 0.5;
      filterOf({ kind: 'ladder', cutoffHz: 1000, resonance }).run(signal);
      return signal.subarray(RATE);
    };
    expect(Math.max(...tail(97))).toBeLessThan(1e-4);
    const ringing = tail(104);
    expect(Math.max(...ringing)).toBeGreaterThan(0.05);
    expect(Math.max(...ringing)).toBeLessThan(1.2);
    let crossings = 0;
    for (let i = 1; i < ringing.length; i++) if (ringing[i - 1] < 0 && ringing[i] >= 0) crossings++;
    expect(crossings).toBeGreaterThan(970);
    expect(crossings).toBeLessThan(1030);
  });
});
