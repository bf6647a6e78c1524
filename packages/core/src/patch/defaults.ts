import {
  type Envelope,
  type Layer,
  PATCH_VERSION,
  type Patch,
  envelopeSchema,
  filterSchema,
  sourceSchema,
} from './schema';

/** One plain saw, an open low-pass: where every rebuilding by hand starts. */
export function emptyPatch(name = 'Untitled patch'): Patch {
  return { format: 'imprint-patch', version: PATCH_VERSION, name, layers: [emptyLayer()], wavetables: [] };
}

export function emptyLayer(): Layer {
  return {
    id: 'layer-1',
    name: 'Layer 1',
    on: true,
    levelDb: -12,
    sources: [sourceSchema.parse({ kind: 'shape', id: 'source-1', shape: 'saw' })],
    filter: filterSchema.parse({ kind: 'lowpass', id: 'filter-1' }),
    amp: defaultEnvelope('amp', 'Amp contour'),
    modulators: [defaultEnvelope('filter-contour', 'Filter contour')],
    routes: [
      {
        id: 'route-cutoff',
        on: true,
        from: 'filter-contour',
        to: { moduleId: 'filter-1', parameter: 'cutoffHz' },
        amount: 0,
      },
    ],
  };
}

export function defaultEnvelope(id: string, name: string): Envelope {
  return envelopeSchema.parse({ kind: 'envelope', id, name });
}
