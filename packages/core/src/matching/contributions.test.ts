import { sourcePatch } from '../../test/patches';
import { renderPatch } from '../engine/render';
import { effectSchema } from '../patch/schemas/effectSchema';
import { lfoSchema, routeSchema } from '../patch/schemas/modulatorSchema';
import { takeOut } from '../patch/edits/takeOut';
import { readTone } from '../reading/read';
import { NOTHING_JND, contributionsOf } from './contributions';

const RATE_HZ = 44100;
const notes = [{ onsetSeconds: 0.05, durationSeconds: 0.8, midi: 57, velocity: 100 }];

function patchOfParts() {
  const patch = sourcePatch(
    { kind: 'shape', shape: 'saw', name: 'Main' },
    { kind: 'shape', shape: 'sine', semitones: -12, name: 'Sub' },
    { kind: 'shape', shape: 'sine', semitones: 31, levelDb: -90, name: 'Unheard' },
  );
  const [layer] = patch.layers;
  layer.filters[0] = { ...layer.filters[0], on: true, cutoffHz: 900 } as never;
  layer.modulators.push(lfoSchema.parse({ kind: 'lfo', id: 'lfo-1', name: 'Vibrato', rateHz: 6 }));
  layer.routes.push(
    routeSchema.parse({ id: 'r', from: 'lfo-1', to: { moduleId: 'layer', parameter: 'semitones' }, amount: 0.5 }),
  );
  layer.effects.push(effectSchema.parse({ kind: 'delay', id: 'echo', mix: 40 }));
  patch.effects.push(effectSchema.parse({ kind: 'equalizer', id: 'flat', bands: Array(8).fill({ kind: 'off' }) }));
  return patch;
}

describe('What the parts of a patch contribute', () => {
  const patch = patchOfParts();
  const channels = renderPatch({ patch, notes, sampleRateHz: RATE_HZ, seconds: 1.4 });
  const audio = { channels, sampleRateHz: RATE_HZ };
  const found = contributionsOf(patch, notes, { audio, reading: readTone(audio) });
  const worthOf = (title: string) => found.find((one) => one.title.includes(title))!.worthJnd;

  it('is much of what is plain to hear, and nothing of what is not', () => {
    for (const title of ['Main', 'Sub', 'Low-pass', 'Vibrato', 'Delay']) expect(worthOf(title)).toBeGreaterThan(0.5);
    for (const title of ['Unheard', 'Equaliser']) expect(Math.abs(worthOf(title))).toBeLessThan(NOTHING_JND);
  });

  it('is told of each part once, the weightiest first', () => {
    const worths = found.map(({ worthJnd }) => worthJnd);
    expect(worths).toEqual([...worths].sort((a, b) => b - a));
    expect(new Set(found.map(({ title }) => title)).size).toBe(7);
  });

  it('taking out what contributes nothing leaves the sound as it is', () => {
    const idle = found.filter(({ worthJnd }) => worthJnd < NOTHING_JND);
    const less = idle.reduce(takeOut, patch);
    expect(less.layers[0].sources).toHaveLength(2);
    expect(less.effects).toHaveLength(0);
    const [left] = renderPatch({ patch: less, notes, sampleRateHz: RATE_HZ, seconds: 1.4 });
    for (let i = 0; i < left.length; i += 97) expect(left[i]).toBeCloseTo(channels[0][i], 3);
  });
});
