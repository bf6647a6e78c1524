import { type FilterProgram, MAX_COEFFICIENTS } from '../src/engine/filters/filter';
import { filterModels } from '../src/engine/filters/index';
import { parametersOf } from '../src/parameters/table';
import { filterSchema } from '../src/patch/schemas/shapingSchema';

/** Rate at which filters are tested by themselves. */
export const FILTER_RATE_HZ = 44100;

const noSteps = new Float64Array(MAX_COEFFICIENTS);

/** A filter by itself, with values that can be moved from sample to sample. */
export function filterOf(fields: Record<string, unknown>) {
  const spec = filterSchema.parse({ id: 'f', ...fields });
  const names = Object.keys(parametersOf(spec.kind));
  const program: FilterProgram = { spec, slots: Object.fromEntries(names.map((name, i) => [name, i])) };
  const values = Float64Array.from(names, (name) => (spec as unknown as Record<string, number>)[name]);
  const model = filterModels[spec.kind];
  const channel = model.createChannel(FILTER_RATE_HZ);
  const coefficients = new Float64Array(MAX_COEFFICIENTS);
  return {
    spec,
    run(signal: Float64Array, cutoffHz = 'cutoffHz' in spec ? spec.cutoffHz : 0) {
      model.tune(program, values, { cutoffHz, sampleRateHz: FILTER_RATE_HZ }, coefficients);
      for (let at = 0; at < signal.length; at += 64) {
        channel.run(program, signal, at, Math.min(signal.length, at + 64), coefficients, noSteps, false);
      }
    },
    sample(x: number, cutoffHz: number): number {
      const one = Float64Array.of(x);
      model.tune(program, values, { cutoffHz, sampleRateHz: FILTER_RATE_HZ }, coefficients);
      channel.run(program, one, 0, 1, coefficients, noSteps, true);
      return one[0];
    },
  };
}
