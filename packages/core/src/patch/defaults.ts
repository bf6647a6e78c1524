import { envelopeSchema } from './schemas/modulatorSchema';
import { type Envelope, type Layer, PATCH_VERSION, type Patch, layerSchema, patchSchema } from './schema';

/** One plain saw, an open low-pass: where every rebuilding by hand starts. */
export function emptyPatch(name = 'Untitled patch'): Patch {
  return patchSchema.parse({
    format: 'imprint-patch',
    version: PATCH_VERSION,
    name,
    layers: [emptyLayer()],
    wavetables: [],
  });
}

export function emptyLayer(id = 'layer-1', name = 'Layer 1'): Layer {
  return layerSchema.parse({
    id,
    name,
    levelDb: -12,
    sources: [{ kind: 'shape', id: 'source-1', shape: 'saw' }],
    filters: [
      { kind: 'lowpass', id: 'filter-1' },
      { kind: 'highpass', id: 'filter-2', on: false },
    ],
    shaper: { id: 'shaper' },
    amp: defaultEnvelope('amp', 'Amp contour'),
    modulators: [defaultEnvelope('filter-contour', 'Filter contour')],
    routes: [
      {
        id: 'route-cutoff',
        from: 'filter-contour',
        to: { moduleId: 'filter-1', parameter: 'cutoffHz' },
        amount: 0,
      },
    ],
  });
}

export function defaultEnvelope(id: string, name: string): Envelope {
  return envelopeSchema.parse({ kind: 'envelope', id, name });
}
