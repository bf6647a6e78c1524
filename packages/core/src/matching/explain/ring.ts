import { interactionSchema } from '../../patch/schemas/sourceSchema';
import { type Explainer, freedoms, short } from './hypothesis';

/** Sidebands at a fixed distance round every partial: the sources are multiplied by a sine. */
export const explainRing: Explainer = ({ note }) => {
  const { ring, sources } = note.reading.traits;
  const { rateHz, kind } = ring;
  if (rateHz === null) return [];
  const count = Math.max(1, sources.parts.length);
  const ids = Array.from({ length: count }, (_, i) => `ring-${i + 1}`);
  // A mix of depth d leaves 1 − d of a partial and puts d/2 to either side.
  const share = 10 ** ((ring.sidebandsDb ?? 0) / 20);
  const depth = kind === 'ring' ? 100 : Math.min(100, (100 * 2 * share) / (1 + 2 * share));
  return [
    {
      name: kind === 'am' ? 'fast level' : 'ring tone',
      stage: 'sources',
      confidence: ring.confidence,
      why: `every partial has sidebands ${short(rateHz)} Hz to both sides`,
      apply: (layer) => {
        layer.sources.slice(0, count).forEach(({ id }, i) => {
          layer.interactions.push(
            interactionSchema.parse({ kind: 'ringTone', id: ids[i], to: id, toneHz: rateHz, depth: Math.round(depth) }),
          );
        });
      },
      freedoms: ids.flatMap((id) => freedoms(id, 'sources', kind === 'ring' ? {} : { depth: 0.06 })),
      brings: ids,
    },
  ];
};
