import { effectSchema } from '../../patch/schemas/effectSchema';
import { shaperSchema } from '../../patch/schemas/shapingSchema';
import type { Layer } from '../../patch/schema';
import { type Explainer, type Hypothesis, freedoms, short } from './hypothesis';

/** Curves as they are told, and what the patch calls them. */
export const curves = { soft: 'soft', hard: 'hard', fold: 'roundFold' } as const;
export type Curve = keyof typeof curves;
const FIRST_DRIVE_DB = 12;
/** How far a curve is driven can only be heard. */
const OTHER_DRIVES_DB = [2, 7, 17, 23];

/** A curve that the sum of the sources is pushed into, or fewer bits. */
export const explainDirt: Explainer = ({ note }) => {
  const { dirt } = note.reading.traits;
  const { kind, bits, holdHz } = dirt;
  if (kind === null || kind === 'none') return [];
  if (kind === 'crush') {
    const rate = holdHz ?? 96000;
    return [
      {
        name: 'crush',
        stage: 'dirt',
        confidence: dirt.confidence,
        why: [
          bits === null ? '' : `samples stand on a grid of ${short(bits)} bits`,
          holdHz === null ? '' : `values are held at ${short(holdHz)} Hz`,
        ]
          .filter(Boolean)
          .join(', and '),
        apply: (layer) => {
          const numbers = { bits: Math.min(24, Math.max(1, bits ?? 24)), rateHz: Math.min(96000, Math.max(100, rate)) };
          layer.effects.push(effectSchema.parse({ kind: 'reducer', id: 'crush', mix: 100, ...numbers }));
        },
        freedoms: [],
        brings: ['crush'],
      },
    ];
  }
  return [bend(kind, dirt.confidence, `loud periods are bent by a ${kind} curve against soft ones`)];
};

/** A curve over the sum of the sources. */
export const bend = (kind: Curve, confidence: number, why: string): Hypothesis => ({
  name: kind === 'fold' ? 'fold' : 'drive',
  stage: 'dirt',
  confidence,
  why,
  apply: (layer) => {
    layer.shaper = shaperSchema.parse({ id: layer.shaper.id, on: true, curve: curves[kind], driveDb: FIRST_DRIVE_DB });
  },
  freedoms: freedoms('shaper', 'dirt', { driveDb: 0.1 }).map((drive) => ({ ...drive, startsAt: OTHER_DRIVES_DB })),
  brings: ['shaper'],
});

/** So soft do sources come to a curve that only their peaks are bent; what the drive lifts again is less. */
const ROUNDED = { sourcesDb: -24, driveDb: 15 };

/**
 * Pushes sources into a curve so far that it bends their peaks alone. Those past it go on beside them as they
 * did.
 */
export function pushGently(layer: Layer, curve: Curve): void {
  const { sourcesDb, driveDb } = ROUNDED;
  layer.shaper = shaperSchema.parse({ id: layer.shaper.id, on: true, curve: curves[curve], driveDb });
  for (const source of layer.sources)
    source.levelDb = Math.max(
      -96,
      source.levelDb + sourcesDb + (source.into === 'second' || source.into === 'past' ? driveDb : 0),
    );
}
