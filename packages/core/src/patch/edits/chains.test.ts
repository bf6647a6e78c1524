import { addEffect, addGroup, addSharedRoute, chainOf, joinGroup, ownerOf, removeEffect, setEffect } from './chains';
import { emptyPatch } from '../defaults';
import { addLayer, addRoute, removeLayer } from './edit';
import { effectSchema } from '../schemas/effectSchema';
import { InputError } from '../inputError';
import { targetOf } from '../modules';
import { parsePatch } from '../parse';
import { type Patch, macroSchema } from '../schema';

const kinds = effectSchema.options.map((option) => option.shape.kind.value);
const ofLayer = { of: 'layer', id: 'layer-1' } as const;
const ofPatch = { of: 'patch' } as const;
const reparsed = (patch: Patch) => parsePatch(JSON.parse(JSON.stringify(patch)));

it.each(kinds)('%s: added to a layer, a group and the patch, it is a valid patch', (kind) => {
  const [grouped, groupId] = addGroup(emptyPatch(), 'layer-1');
  let patch = grouped;
  for (const owner of [ofLayer, { of: 'group', id: groupId } as const, ofPatch]) {
    const [changed, id] = addEffect(patch, owner, kind);
    expect(chainOf(changed, owner).map((effect) => [effect.id, effect.kind])).toEqual([[id, kind]]);
    expect(ownerOf(changed, changed.layers[0], id)).toEqual(owner);
    patch = changed;
  }
  expect(reparsed(patch)).toEqual(patch);
});

it('an effect is changed by its id, reached by routes, and taken out with them', () => {
  const [added, id] = addEffect(emptyPatch(), ofLayer, 'reverb');
  const patch = setEffect(added, ofLayer, id, { mix: 60 });
  const [layer] = patch.layers;
  expect(layer.effects[0].mix).toBe(60);
  expect(targetOf(layer, { moduleId: id, parameter: 'mix' })).toMatchObject({ kind: 'reverb', resting: 60 });
  expect(targetOf(layer, { moduleId: id, parameter: 'size' })).toContain('nothing that moves');
  const [routed] = addRoute(layer, 'amp', { moduleId: id, parameter: 'mix' }, 20);
  const [left] = removeEffect({ ...patch, layers: [routed] }, ofLayer, id).layers;
  expect(left.effects).toEqual([]);
  expect(left.routes).toEqual(layer.routes);
});

it('a macro reaches an effect of the patch; its route goes with the effect', () => {
  const macros = [macroSchema.parse({ id: 'macro-1', name: 'Storm' })];
  const [added, id] = addEffect({ ...emptyPatch(), macros }, ofPatch, 'delay');
  const [patch] = addSharedRoute(added, 'macro-1', { moduleId: id, parameter: 'mix' }, 40);
  expect(reparsed(patch)).toEqual(patch);
  expect(removeEffect(patch, ofPatch, id).routes).toEqual([]);
  const [astray] = addSharedRoute(added, 'macro-1', { moduleId: id, parameter: 'size' }, 40);
  expect(() => parsePatch(astray)).toThrow('nothing that moves in a delay');
  const [lost] = addSharedRoute(added, 'macro-2', { moduleId: id, parameter: 'mix' }, 40);
  expect(() => parsePatch(lost)).toThrow('"macro-2", which is no macro');
});

it('a group lasts as long as it has layers', () => {
  const [two] = addLayer(emptyPatch());
  const [grouped, groupId] = addGroup(two, 'layer-1');
  const both = joinGroup(grouped, 'layer-2', groupId);
  expect(both.layers.map((layer) => layer.groupId)).toEqual([groupId, groupId]);
  expect(removeLayer(both, 'layer-1').groups).toHaveLength(1);
  expect(joinGroup(removeLayer(both, 'layer-1'), 'layer-2', null).groups).toEqual([]);
  expect(() => parsePatch({ ...both, groups: [] })).toThrow('which the patch does not have');
});

it('what listens to a layer that goes listens to none', () => {
  const [two] = addLayer(emptyPatch());
  const [patch] = addEffect(two, ofPatch, 'compressor', { keyLayerId: 'layer-2' });
  const [deaf] = removeLayer(patch, 'layer-2').effects;
  expect(deaf).toMatchObject({ kind: 'compressor', keyLayerId: null });
  expect(() => parsePatch({ ...patch, layers: [patch.layers[0]] })).toThrow('listens to layer "layer-2"');
});

it('says what is wrong with a chain', () => {
  const [one] = addEffect(emptyPatch(), ofPatch, 'delay');
  const [delay] = one.effects;
  expect(() => parsePatch({ ...one, effects: [delay, delay] })).toThrow(
    new InputError(`Two effects of the patch have the id "${delay.id}".`),
  );
  expect(() => parsePatch({ ...one, effects: [{ ...delay, leftDivision: '1/7x' }] })).toThrow('1/8.');
});
