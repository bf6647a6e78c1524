import { lfo, plainPatch, route } from '../../../test/patches';
import { envelopeSchema, noteValueSchema } from '../../patch/schemas/modulatorSchema';
import type { Modulator, Route } from '../../patch/schema';
import { tuningOffsetCents } from './tuningOffset';

function offset(modulator: Modulator, fields: Partial<Route> = {}): number | undefined {
  const patch = plainPatch('sine');
  const [layer] = patch.layers;
  layer.modulators = [modulator];
  layer.routes = [{ ...route(modulator.id, 'source-1', 'semitones', 2), ...fields }];
  return tuningOffsetCents(patch, layer, layer.routes[0]);
}

describe('A route to the pitch puts a held note out of tune', () => {
  it('by half its amount, when an LFO goes one way', () => expect(offset(lfo('l'))).toBeCloseTo(100, 0));
  it('not, when the LFO goes both ways', () => expect(offset(lfo('l'), { polarity: 'bipolar' })).toBeUndefined());
  it('by a drawn shape’s mean', () => {
    const points = [
      { at: 0, value: 1 },
      { at: 0.5, value: 1 },
      { at: 0.501, value: 0.5 },
      { at: 0.999, value: 0.5 },
    ];
    expect(offset(lfo('l', { shape: 'drawn', points }), { polarity: 'bipolar' })).toBeCloseTo(100, 0);
  });
  it('by an envelope’s sustain, and not when there is none', () => {
    const envelope = (sustainDb: number) => envelopeSchema.parse({ kind: 'envelope', id: 'e', name: 'e', sustainDb });
    expect(offset(envelope(-6.0206))).toBeCloseTo(100, 0);
    expect(offset(envelope(-96))).toBeUndefined();
  });
  it('not by what the player does', () => {
    expect(offset(noteValueSchema.parse({ kind: 'note', id: 'v', name: 'v', of: 'wheel' }))).toBeUndefined();
  });
  it('not when the route is off or goes elsewhere', () => {
    expect(offset(lfo('l'), { on: false })).toBeUndefined();
    expect(offset(lfo('l'), { to: { moduleId: 'source-1', parameter: 'levelDb' } })).toBeUndefined();
  });
});
