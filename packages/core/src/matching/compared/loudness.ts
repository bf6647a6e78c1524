import { heardLoudness } from '../../reading/level/heardLoudness';
import type { Reading } from '../../reading/schema';
import { type ComparedTrait, between, pairs, ratioOfTimes, rms } from './comparedTrait';

const attack = (reading: Reading) => reading.traits.loudness.attackSeconds;
const decay = (reading: Reading) => {
  const { sustainDb, decaySeconds } = reading.traits.loudness;
  return sustainDb !== null && sustainDb < -1 ? decaySeconds : null;
};
const sustain = (reading: Reading) => {
  const { sustainDb } = reading.traits.loudness;
  return sustainDb === null ? null : Math.max(-40, sustainDb);
};
const release = (reading: Reading) => reading.traits.loudness.releaseSeconds;

/** Level 1 dB, attack times 25 %, decays 20 %: Zwicker & Fastl, Psychoacoustics. */
export const loudness: readonly ComparedTrait[] = [
  {
    trait: 'attack',
    label: 'Attack',
    unit: 's',
    value: attack,
    distance: between(attack, ratioOfTimes(0.25)),
    wording: {
      more: 'The attack is too slow',
      less: 'The attack is too fast',
      closes: 'Move Attack of the amp contour.',
    },
  },
  {
    trait: 'decay',
    label: 'Level decay',
    unit: 's',
    value: decay,
    distance: between(decay, ratioOfTimes(0.2)),
    wording: {
      more: 'The level falls too slowly',
      less: 'The level falls too fast',
      closes: 'Move Decay of the amp contour.',
    },
  },
  {
    trait: 'sustain',
    label: 'Sustain level',
    unit: 'dB',
    value: sustain,
    distance: between(sustain, (a, b) => (a - b) / 1),
    wording: {
      more: 'The held level is too high',
      less: 'The held level is too low',
      closes: 'Move Sustain of the amp contour.',
    },
  },
  {
    trait: 'release',
    label: 'Release',
    unit: 's',
    value: release,
    distance: between(release, ratioOfTimes(0.25)),
    wording: {
      more: 'The note rings too long',
      less: 'The note ends too soon',
      closes: 'Move Release of the amp contour.',
    },
  },
  {
    trait: 'levelContour',
    label: 'Level over time',
    unit: 'dB',
    value: () => null,
    distance: levelContourDistance,
    wording: {
      more: 'The level does not follow the reference over time',
      less: 'The level does not follow the reference over time',
      closes: 'Compare the level lanes; change the amp contour.',
    },
  },
];

/** RMS difference of the level contours at equal loudness, limited to 20 dB at any time; 1 dB is one JND. */
function levelContourDistance(reference: Reading, proof: Reading): number | undefined {
  const both = pairs(reference, proof, (reading) => reading.traits.loudness.contour);
  const lufs = heardLoudness(reference);
  const own = heardLoudness(proof);
  if (both.length < 8 || lufs === null || own === null) return undefined;
  return rms(both.map(([a, b]) => Math.max(-20, Math.min(20, a - lufs - (b - own)))));
}
