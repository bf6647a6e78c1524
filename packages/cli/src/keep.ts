import { InputError } from '@imprint/core/patch/inputError';
import type { Audio, IsolatedTone } from '@imprint/core/reading/audio';
import { isolatedTone } from '@imprint/core/reading/isolation/isolate';
import { type Isolation, NO_ISOLATION, isolationSchema } from '@imprint/core/reading/isolation/settings';
import { suggestIsolation } from '@imprint/core/reading/isolation/suggestIsolation';
import { readTone } from '@imprint/core/reading/read';

/** In place of parts: what tells the tone from what else sounds in the cut, if anything does. */
const SUGGESTED = 'suggested';
const FORM =
  'band=40-1200, place=mid, place=side, place=-50..50, kind=tonal, kind=percussive, partials, sub, hits; or suggested alone';

/**
 * What is kept of a sound, from its parts on the command line. Throws an InputError that says what is right.
 */
export function parseKeep(spec: string): Isolation {
  const isolation: Record<string, unknown> = { ...NO_ISOLATION };
  for (const part of spec.split(',').map((text) => text.trim())) {
    const [name, value] = part.split('=');
    const numbers = (pattern: RegExp) =>
      pattern
        .exec(value ?? '')
        ?.slice(1)
        .map(Number);
    if (name === 'band') {
      const edges = numbers(/^(\d+(?:\.\d+)?)-(\d+(?:\.\d+)?)$/);
      isolation.band = edges && { fromHz: edges[0], toHz: edges[1] };
    } else if (name === 'place') {
      const pans = numbers(/^(-?\d+(?:\.\d+)?)\.\.(-?\d+(?:\.\d+)?)$/);
      isolation.place = pans ? { kind: 'range', fromPan: pans[0], toPan: pans[1] } : { kind: value };
    } else if (name === 'kind') isolation.character = value;
    else if (part === 'partials') isolation.partialsOnly = true;
    else if (part === 'sub') isolation.withSub = true;
    else if (part === 'hits') isolation.hitsDown = true;
    else throw new InputError(`--keep ${spec}: “${part}” is none of ${FORM}.`);
  }
  const parsed = isolationSchema.safeParse(isolation);
  if (!parsed.success) throw new InputError(`--keep ${spec}: it is made of any of ${FORM}.`);
  return parsed.data;
}

/** The sound as it is kept; all of it where nothing is said. */
export function kept(audio: Audio, spec: string | undefined): IsolatedTone {
  if (spec === undefined) return { audio };
  const isolation = spec === SUGGESTED ? undefined : parseKeep(spec);
  const reading = readTone(audio);
  const wanted = isolation ?? suggestIsolation(audio, reading)?.isolation;
  return wanted ? isolatedTone(audio, wanted, reading.notes) : { audio };
}
