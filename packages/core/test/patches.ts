import { emptyPatch } from '../src/patch/defaults';
import { type Patch, type ShapeName, sourceSchema } from '../src/patch/schema';
import { parameterTable } from '../src/parameters/table';
import type { Parameter } from '../src/parameters/parameter';
import { wavetableFromSamples } from '../src/patch/wavetableFrames';

/** One plain shape, no filter, no contour: what an oscillator makes by itself. */
export function plainPatch(shape: ShapeName, fields: Record<string, number> = {}): Patch {
  const patch = emptyPatch();
  const [layer] = patch.layers;
  layer.levelDb = 0;
  layer.sources = [sourceSchema.parse({ kind: 'shape', id: 'source-1', shape, ...fields })];
  layer.filter.on = false;
  layer.amp = { ...layer.amp, attackSeconds: 0, sustainDb: 0, releaseSeconds: 0.05 };
  return patch;
}

/** A patch with every number anywhere in its range, from a series of random numbers. */
export function randomPatch(random: () => number): Patch {
  const anywhere = (parameters: Record<string, Parameter>) =>
    Object.fromEntries(
      Object.entries(parameters).map(([name, { min, max, step }]) => {
        // The ends of a range are where things break: they come up often.
        const at = random();
        const value = at < 0.15 ? min : at > 0.85 ? max : min + random() * (max - min);
        return [name, step >= 1 ? Math.round(value) : value];
      }),
    );
  const pick = <T>(...values: T[]) => values[Math.floor(random() * values.length)];
  const patch = emptyPatch();
  const [layer] = patch.layers;
  const samples = Float32Array.from({ length: 3 * 2048 }, () => 2 * random() - 1);
  patch.wavetables = [wavetableFromSamples('table-1', 'Random', samples)];
  layer.sources = Array.from({ length: 1 + Math.floor(random() * 3) }, (_, i) =>
    random() < 0.5
      ? sourceSchema.parse({
          kind: 'wavetable',
          id: `s${i}`,
          wavetableId: 'table-1',
          ...anywhere(parameterTable.wavetable),
        })
      : sourceSchema.parse({
          kind: 'shape',
          id: `s${i}`,
          shape: pick('sine', 'triangle', 'saw', 'pulse'),
          ...anywhere(parameterTable.shape),
        }),
  );
  layer.filter = { ...layer.filter, ...anywhere(parameterTable.lowpass), slopeDbPerOctave: pick(12, 24) };
  layer.amp = { ...layer.amp, ...anywhere(parameterTable.envelope) };
  layer.modulators = [
    { ...layer.amp, id: 'm1', name: 'Envelope', ...anywhere(parameterTable.envelope) },
    {
      kind: 'contour',
      id: 'm2',
      name: 'Line',
      points: [0, 0.05, 0.2].map((seconds) => ({ seconds, value: 2 * random() - 1 })),
    },
  ];
  layer.routes = [
    {
      id: 'r1',
      on: true,
      from: 'm1',
      to: { moduleId: layer.filter.id, parameter: 'cutoffHz' },
      amount: 240 * (random() - 0.5),
    },
    { id: 'r2', on: true, from: 'm2', to: { moduleId: 's0', parameter: 'semitones' }, amount: 96 * (random() - 0.5) },
    {
      id: 'r3',
      on: true,
      from: 'm2',
      to: { moduleId: layer.filter.id, parameter: 'resonanceDb' },
      amount: 36 * random(),
    },
    { id: 'r4', on: true, from: 'm1', to: { moduleId: 's0', parameter: 'levelDb' }, amount: -48 * random() },
  ];
  return patch;
}
