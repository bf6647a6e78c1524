import { sourcePatch } from '../../../test/patches';
import { RATE, held, play, note } from '../../../test/playing';
import { amplitudeAt, decibels, rms } from '../../../test/signals';
import { sampleFromChannels } from '../../patch/contents/samplePcm';
import { envelopeSchema, routeSchema } from '../../patch/schemas/modulatorSchema';

describe('What is let through of a source', () => {
  const sample = sampleFromChannels('one', 'One', RATE, [
    Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / RATE)),
  ]);
  const kinds = [
    { kind: 'shape', shape: 'saw' },
    { kind: 'noise', restart: 'note' },
    { kind: 'sample', sampleId: 'one', rootMidi: 69 },
  ];
  const patchOf = (fields: Record<string, unknown>) => ({ ...sourcePatch(fields), samples: [sample] });

  it.each(kinds)('is a factor of its level: $kind', (fields) => {
    const levels = [100, 50, 25, 0].map((letThrough) => rms(held(patchOf({ ...fields, letThrough }), 69, 0.5)));
    expect(decibels(levels[1] / levels[0])).toBeCloseTo(-6.02, 1);
    expect(decibels(levels[2] / levels[0])).toBeCloseTo(-12.04, 1);
    expect(levels[3]).toBe(0);
  });

  it('is a gate for one source, which is heard at the start only and is silent after', () => {
    const patch = sourcePatch(
      { kind: 'shape', shape: 'saw', letThrough: 0, octaves: 1 },
      { kind: 'shape', shape: 'sine' },
    );
    const [layer] = patch.layers;
    const gate = { attackSeconds: 0, holdSeconds: 0.1, decaySeconds: 0.05, sustainDb: -96, decayCurve: 0 };
    layer.modulators = [envelopeSchema.parse({ kind: 'envelope', id: 'envelope-1', name: 'Gate', ...gate })];
    const to = { moduleId: 'source-1', parameter: 'letThrough' };
    layer.routes = [routeSchema.parse({ id: 'route-1', from: 'envelope-1', to, amount: 100 })];
    const [signal] = play(patch, [note(0, 9, 45)], 0.6);
    const saw = (from: number, to_: number) => amplitudeAt(signal.subarray(from * RATE, to_ * RATE), RATE, 440);
    // The saw's second partial, where the sine has none.
    const open = held(sourcePatch({ kind: 'shape', shape: 'saw', octaves: 1 }), 45, 0.1);
    expect(decibels(saw(0.01, 0.0964) / amplitudeAt(open.subarray(0.01 * RATE), RATE, 440))).toBeCloseTo(0, 1);
    // Straight down in between: a line, not an exponential.
    const period = 1 / 110;
    expect(decibels((saw(0.1205, 0.1205 + period) / saw(0.085, 0.085 + period)) * 2)).toBeCloseTo(0, 0);
    expect(saw(0.2, 0.6)).toBeLessThan(1e-4);
  });
});
