import { amplitudeAt, hzAt, rms } from '../../../test/signals';
import { sourcePatch } from '../../../test/patches';
import { renderPatch } from '../../engine/render';
import { parametersOf } from '../../parameters/table';
import { modulesOf } from '../../patch/modules';
import { parsePatch } from '../../patch/parse';
import type { Patch } from '../../patch/schema';
import { additionsTo } from './additions';

const RATE_HZ = 44100;
const F0_HZ = 110;

/** A pulse and a softer saw behind a low-pass: a layer that every addition can be made to. */
function startingPatch(): Patch {
  const patch = sourcePatch(
    { kind: 'shape', shape: 'pulse', pulseWidth: 30 },
    { kind: 'shape', shape: 'saw', levelDb: -8 },
  );
  const [filter] = patch.layers[0].filters;
  patch.layers[0].filters[0] = { ...filter, on: true, cutoffHz: 2500 } as typeof filter;
  patch.layers[0].filters[1].on = false;
  Object.assign(patch.layers[0], { routes: [], modulators: [] });
  return patch;
}

const named = (patch: Patch, name: string) => additionsTo(patch.layers[0]).find((addition) => addition.name === name);
const names = additionsTo(startingPatch().layers[0]).map(({ name }) => name);

function withAddition(name: string): Patch {
  const patch = startingPatch();
  named(patch, name)!.apply(patch.layers[0], patch);
  return patch;
}

const played = (patch: Patch): Float32Array =>
  renderPatch({
    patch,
    notes: [{ onsetSeconds: 0, durationSeconds: 1, midi: 45, velocity: 100 }],
    sampleRateHz: RATE_HZ,
    seconds: 1,
  })[0];

/** How much louder something is with an addition than without it, dB. */
const changeDb = (name: string, of: (sound: Float32Array) => number) =>
  20 * Math.log10(of(played(withAddition(name))) / of(played(startingPatch())));
const partial = (n: number) => (sound: Float32Array) => amplitudeAt(sound.subarray(RATE_HZ / 2), RATE_HZ, n * F0_HZ);

describe.each(names)('The addition "%s"', (name) => {
  it('leaves a patch that plays, with all that it says it brings', () => {
    const patch = withAddition(name);
    expect(parsePatch(JSON.parse(JSON.stringify(patch)))).toEqual(patch);
    const [layer] = patch.layers;
    const there = [
      ...modulesOf(layer).map(({ id }) => id),
      ...layer.routes.map(({ id }) => id),
      ...layer.effects.map(({ id }) => id),
    ];
    const { brings } = named(startingPatch(), name)!;
    expect(brings.length).toBeGreaterThan(0);
    for (const id of brings) expect(there).toContain(id);
  });

  it('frees numbers that are in the patch', () => {
    const [layer] = withAddition(name).layers;
    for (const { moduleId, parameter, step } of named(startingPatch(), name)!.freedoms) {
      expect(step).toBeGreaterThan(0);
      const module = [...modulesOf(layer), ...layer.effects].find(({ id }) => id === moduleId);
      if (module) expect(Object.keys(parametersOf(module.kind))).toContain(parameter);
      else expect(layer.routes.map(({ id }) => id)).toContain(moduleId);
    }
  });

  it('is heard', () => {
    const [a, b] = [played(startingPatch()), played(withAddition(name))];
    const added = a.map((x, i) => x - b[i]).subarray(0, RATE_HZ / 10);
    expect(rms(added) / rms(a)).toBeGreaterThan(10 ** (-60 / 20));
  });
});

it('offers nothing twice', () => {
  for (const name of names) {
    const again = named(withAddition(name), name);
    // A pulse can be moved by more than one thing; and of two sources each can fall by itself.
    if (name !== 'pulse width going round' && !name.startsWith('fall of')) expect(again).toBeUndefined();
  }
});

it('does what it is called', () => {
  expect(changeDb('high-pass', partial(1))).toBeLessThan(-0.5);
  expect(Math.abs(changeDb('high-pass', partial(8)))).toBeLessThan(0.5);
  expect(changeDb('high cut', partial(100))).toBeLessThan(-10);
  expect(Math.abs(changeDb('high cut', partial(10)))).toBeLessThan(0.3);
  const between = (sound: Float32Array) => amplitudeAt(sound.subarray(RATE_HZ / 2), RATE_HZ, 20.5 * F0_HZ);
  expect(changeDb('breath', between)).toBeGreaterThan(10);
  const earlyTop = (sound: Float32Array) => amplitudeAt(sound.subarray(0, RATE_HZ / 50), RATE_HZ, 50 * F0_HZ);
  expect(changeDb('filter fall', earlyTop)).toBeGreaterThan(3);
  expect(Math.abs(changeDb('filter fall', partial(30)))).toBeLessThan(1);
});

it('drops the pitch at the start only', () => {
  const sound = played(withAddition('pitch drop'));
  expect(hzAt(sound, RATE_HZ, 0.9, 0.1)).toBeCloseTo(hzAt(played(startingPatch()), RATE_HZ, 0.9, 0.1), 0);
  const patch = sourcePatch({ kind: 'shape', shape: 'sine' });
  named(patch, 'pitch drop')!.apply(patch.layers[0], patch);
  expect(hzAt(played(patch), RATE_HZ, 0.012, 0.02)).toBeGreaterThan(1.05 * F0_HZ);
});

it('has no use for a width where there is no pulse, or a fall where there is one source', () => {
  const patch = sourcePatch({ kind: 'shape', shape: 'saw' });
  expect(named(patch, 'pulse width going round')).toBeUndefined();
  expect(additionsTo(patch.layers[0]).some(({ name }) => name.startsWith('fall of'))).toBe(false);
});
