import { pcmOf } from '../../patch/contents/samplePcm';
import type { Patch, Sample, Source, Wavetable } from '../../patch/schema';
import { framesOf } from '../../patch/contents/wavetableFrames';
import { type BandlimitedTable, type Harmonics, tableFromFrames, tableFromHarmonics } from '../tables/bandlimitedTable';
import { type PreparedSample, prepareSample } from './preparedSample';

/**
 * What a patch plays besides its numbers, made ready for the audio thread: plain data that can be sent there.
 * Making it takes tens of milliseconds, so it is done elsewhere.
 */
export interface PatchResources {
  /** Band-limited tables by wavetable id, and of partials by source key. */
  tables: ReadonlyMap<string, BandlimitedTable>;
  samples: ReadonlyMap<string, PreparedSample>;
}

export const NO_RESOURCES: PatchResources = { tables: new Map(), samples: new Map() };

type PartialsSource = Extract<Source, { kind: 'partials' }>;

/** One thing to make ready: under which key the engine looks for it, what it is made of, and how. */
export type ResourceRequest =
  | { kind: 'wavetable'; key: string; content: string; wavetable: Wavetable }
  | { kind: 'partials'; key: string; content: string; source: PartialsSource }
  | { kind: 'sample'; key: string; content: string; sample: Sample };

/** Key of the table of a partials source; source ids are unique within a layer only. */
export const partialsKey = (layerId: string, sourceId: string) => `${layerId}/${sourceId}`;

/**
 * What has to be made ready for a patch. `content` tells whether something made earlier can be used again.
 */
export function resourcesWanted(patch: Patch): ResourceRequest[] {
  return [
    ...patch.wavetables.map((wavetable): ResourceRequest => ({
      kind: 'wavetable',
      key: wavetable.id,
      content: wavetable.framesBase64,
      wavetable,
    })),
    ...patch.samples.map((sample): ResourceRequest => ({
      kind: 'sample',
      key: sample.id,
      content: `${sample.sampleRateHz} ${sample.channels} ${sample.pcmBase64}`,
      sample,
    })),
    ...patch.layers.flatMap((layer) =>
      layer.sources.flatMap((source): ResourceRequest[] =>
        source.kind === 'partials'
          ? [
              {
                kind: 'partials',
                key: partialsKey(layer.id, source.id),
                content: JSON.stringify([source.levelsDb, source.phasesCycles]),
                source,
              },
            ]
          : [],
      ),
    ),
  ];
}

/** Makes one resource ready. */
export function prepareResource(request: ResourceRequest): BandlimitedTable | PreparedSample {
  switch (request.kind) {
    case 'wavetable':
      return tableFromFrames(framesOf(request.wavetable));
    case 'partials':
      return tableFromHarmonics([harmonicsOfPartials(request.source)]);
    case 'sample':
      return prepareSample(pcmOf(request.sample), request.sample.sampleRateHz);
  }
}

/** Sorts prepared resources to where the engine looks for them. */
export function gatherResources(
  ready: readonly (readonly [ResourceRequest, BandlimitedTable | PreparedSample])[],
): PatchResources {
  const tables = new Map<string, BandlimitedTable>();
  const samples = new Map<string, PreparedSample>();
  for (const [{ key }, resource] of ready) {
    if ('levels' in resource) tables.set(key, resource);
    else samples.set(key, resource);
  }
  return { tables, samples };
}

/** Everything that a patch plays, made ready here and now. */
export const prepareResources = (patch: Patch): PatchResources =>
  gatherResources(resourcesWanted(patch).map((request) => [request, prepareResource(request)] as const));

/** Sines of the given levels and phases, so that phase 0 starts at zero and rises. */
function harmonicsOfPartials({ levelsDb, phasesCycles }: PartialsSource): Harmonics {
  const cosine = new Float64Array(levelsDb.length + 1);
  const sine = new Float64Array(levelsDb.length + 1);
  levelsDb.forEach((levelDb, i) => {
    const amplitude = levelDb <= -96 ? 0 : 10 ** (levelDb / 20);
    const angle = 2 * Math.PI * (phasesCycles[i] ?? 0);
    sine[i + 1] = amplitude * Math.cos(angle);
    cosine[i + 1] = amplitude * Math.sin(angle);
  });
  return { cosine, sine };
}
