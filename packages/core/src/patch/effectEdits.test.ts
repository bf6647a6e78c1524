import { emptyPatch } from './defaults';
import { addEffect, addLayerEffect, removeFromLayer, setFields } from './edit';
import { effectSchema } from './effectSchema';
import { InputError } from './inputError';
import { targetOf } from './modules';
import { parsePatch } from './parse';

const kinds = effectSchema.options.map((option) => option.shape.kind.value);

it.each(kinds)('%s: added to a layer and to the patch, it is a valid patch', (kind) => {
  const patch = addEffect(emptyPatch(), kind, 'last-1');
  const [layer, id] = addLayerEffect(patch.layers[0], kind);
  expect(layer.effects.map((effect) => [effect.id, effect.kind])).toEqual([[id, kind]]);
  const whole = { ...patch, layers: [layer] };
  expect(parsePatch(JSON.parse(JSON.stringify(whole)))).toEqual(whole);
});

it('an effect is changed by its id, reached by routes, and taken out with them', () => {
  const [added, id] = addLayerEffect(emptyPatch().layers[0], 'reverb');
  const layer = setFields(added, id, { mix: 60 });
  expect(layer.effects[0].mix).toBe(60);
  expect(targetOf(layer, { moduleId: id, parameter: 'mix' })).toMatchObject({ kind: 'reverb', resting: 60 });
  expect(targetOf(layer, { moduleId: id, parameter: 'size' })).toContain('nothing that moves');
  expect(removeFromLayer(layer, id).effects).toEqual([]);
});

it('says what is wrong with a chain', () => {
  const twice = addEffect(addEffect(emptyPatch(), 'delay', 'a'), 'delay', 'a');
  expect(() => parsePatch(twice)).toThrow(new InputError('Two effects of the patch have the id "a".'));
  const [delay] = addEffect(emptyPatch(), 'delay', 'a').effects;
  expect(() => parsePatch({ ...emptyPatch(), effects: [{ ...delay, leftDivision: '1/7x' }] })).toThrow('1/8.');
});
