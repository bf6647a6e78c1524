import type { Patch } from '../../patch/schema';
import type { LayerProgram } from './program';

/**
 * What must stay the same for voices to go on: modules and their kinds, what they read and how they are
 * joined.
 */
export function structureOf({ layers, macros }: Patch, programs: readonly LayerProgram[]): string {
  return JSON.stringify([
    layers.map(
      ({ id, groupId, sources, interactions, filters, filterOrder, shaper, modulators, routes, effects, voice }, l) => [
        id,
        groupId,
        sources.map((source) => [
          source.id,
          source.kind,
          source.on,
          source.into,
          'unisonVoices' in source && source.unisonVoices,
          'shape' in source && source.shape,
          'phaseShape' in source && source.phaseShape,
          'wavetableId' in source && source.wavetableId,
          'sampleId' in source && source.sampleId,
        ]),
        interactions.map(({ id, kind, on, to, ...other }) => [id, kind, on, to, 'from' in other && other.from]),
        filters.map(({ id, kind }) => [id, kind]),
        filterOrder,
        shaper.on,
        modulators.map(({ id, kind }) => [id, kind]),
        routes.map(({ id, on, from, to }) => [id, on, from, to]),
        effects.map(({ id, kind }) => [id, kind]),
        voice.mode,
        programs[l].stereo,
        programs[l].centred,
        programs[l].makesDc,
      ],
    ),
    macros.map(({ id }) => id),
  ]);
}
