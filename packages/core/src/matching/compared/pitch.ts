import { centsBetween } from '../../dsp/pitch';
import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between, ratioOfRates, type Wording } from './comparedTrait';

const f0Hz = (reading: Reading) => reading.traits.pitch.f0Hz;
// What is not there has no depth.
const vibratoDepth = (reading: Reading) =>
  reading.traits.pitch.f0Hz === null ? null : (reading.traits.pitch.vibrato?.depthCents ?? 0);
const vibratoRate = (reading: Reading) => reading.traits.pitch.vibrato?.rateHz ?? null;

/** Within so many cents of a whole number of octaves it is the octave that is wrong. */
const OCTAVE_CENTS = 50;

/** A tone an octave off is told so: it is another control that closes it. */
function pitchWording(reference: number | null, proof: number | null): Wording {
  const cents = reference !== null && proof !== null ? centsBetween(reference, proof) : 0;
  const octaves = Math.round(cents / 1200);
  if (octaves === 0 || Math.abs(cents - 1200 * octaves) > OCTAVE_CENTS)
    return { more: 'The patch is sharp', less: 'The patch is flat', closes: 'Move Semitones and Fine of the source.' };
  const count = Math.abs(octaves) === 1 ? 'an octave' : `${Math.abs(octaves)} octaves`;
  return {
    more: `The patch is ${count} too high`,
    less: `The patch is ${count} too low`,
    closes: `Move Octaves of the source by ${octaves > 0 ? '−' : '+'}${Math.abs(octaves)}.`,
  };
}

/** Pitch 5 cents: Zwicker & Fastl, Psychoacoustics. Depths of vibrato 15 %: from memory. */
export const pitch: readonly ComparedTrait[] = [
  {
    trait: 'pitch',
    label: 'Pitch',
    unit: 'Hz',
    value: f0Hz,
    distance: between(f0Hz, (a, b) => centsBetween(a, b) / 5),
    wording: pitchWording,
  },
  {
    trait: 'vibratoDepth',
    label: 'Vibrato depth',
    unit: 'ct',
    value: vibratoDepth,
    distance: between(vibratoDepth, (a, b) => (a - b) / Math.max(5, 0.15 * a)),
    wording: {
      more: 'The vibrato is too deep',
      less: 'The vibrato is too shallow',
      closes: 'Route an LFO to Fine of the source, or move its amount.',
    },
  },
  {
    trait: 'vibratoRate',
    label: 'Vibrato rate',
    unit: 'Hz',
    value: vibratoRate,
    distance: between(vibratoRate, ratioOfRates),
    wording: {
      more: 'The vibrato is too fast',
      less: 'The vibrato is too slow',
      closes: 'Move the rate of the LFO.',
    },
  },
];
