import { lfo, plainPatch, route } from '../../../test/patches';
import { layerCurves } from './layerCurves';

const phrase = [{ onsetSeconds: 0.5, durationSeconds: 1, midi: 60, velocity: 100 }];

it('shows what the engine plays: contour, moved values, nothing before the note', () => {
  const patch = plainPatch('sine');
  const [layer] = patch.layers;
  layer.modulators = [lfo('l', { shape: 'rising', rateHz: 1 })];
  layer.routes = [route('l', 'source-1', 'semitones', 12), route('l', 'layer', 'levelDb', -6)];
  Object.assign(layer.amp, { attackSeconds: 0.5 });
  const curves = layerCurves(patch, layer, phrase, 2, 201);
  const at = (list: (number | null)[], seconds: number) => list[Math.round(seconds * 100)];
  expect(at(curves.levelDb, 0.4)).toBeNull();
  // Half of the attack, and a quarter of −6 dB.
  expect(at(curves.levelDb, 0.75)).toBeCloseTo(-6.02 - 1.5, 1);
  expect(at(curves.modulators.get('l')!, 1)).toBeCloseTo(0.5, 2);
  expect(at(curves.valuesOf({ moduleId: 'source-1', parameter: 'semitones' }), 1)).toBeCloseTo(6, 1);
  expect(at(curves.midi, 1)).toBe(60);
});
