import type { Reading } from '../../src/reading/schema';
import type { Feature } from './madeTone';

/** What a reading claims, and how sure it is of it. */
export function claimsOf({ traits }: Reading): Map<Feature, number> {
  const {
    pitch,
    unison,
    noise: air,
    space,
    motion,
    dirt,
    fm: sidebands,
    ring: rung,
    formants: peaks,
    partials,
  } = traits;
  const claims: [Feature, boolean, number][] = [
    ['vibrato', pitch.vibrato !== null, pitch.confidence],
    ['slide', pitch.sweep !== null, pitch.confidence],
    ['voices', unison.detuneCents !== null, unison.confidence],
    ['noise', air.levelDb !== null, air.confidence],
    ['room', space.rt60Seconds !== null, space.confidence],
    ['echo', space.echo !== null, space.confidence],
    ['motion', motion.some(({ cause }) => cause !== 'vibrato'), motion[0]?.confidence ?? 0],
    ['dirt', dirt.kind !== null && dirt.kind !== 'none', dirt.confidence],
    ['fm', sidebands.carrierHz !== null, sidebands.confidence],
    ['ring', rung.rateHz !== null, rung.confidence],
    ['formants', peaks.peaks.length > 0, peaks.confidence],
    ['stiff', partials.inharmonicity !== null && partials.inharmonicity > 0, partials.confidence],
  ];
  return new Map(claims.filter(([, claimed]) => claimed).map(([feature, , confidence]) => [feature, confidence]));
}
