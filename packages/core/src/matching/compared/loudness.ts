import { heardLoudness } from '../../reading/level/heardLoudness';
import type { Series } from '../../reading/documentParts';
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

/** Equivalent duration of the ear's temporal window (Plack & Moore 1990, 8 to 13 ms). */
const EAR_SECONDS = 0.01;
const SILENT_DB = -120;

/** A level contour as the ear follows it: ripples within a period, where it does not, are nobody's. */
function asHeard({ hopSeconds, values }: Series): Series {
  const reach = Math.round(EAR_SECONDS / 2 / hopSeconds);
  const sums = [0];
  for (const db of values) sums.push(sums[sums.length - 1] + 10 ** ((db ?? SILENT_DB) / 10));
  return {
    hopSeconds,
    values: values.map((_, i) => {
      const from = Math.max(0, i - reach);
      const to = Math.min(values.length, i + reach + 1);
      return 10 * Math.log10((sums[to] - sums[from]) / (to - from) + 1e-12);
    }),
  };
}

/** RMS difference of the level contours at equal loudness, limited to 20 dB at any time; 1 dB is one JND. */
function levelContourDistance(reference: Reading, proof: Reading): number | undefined {
  const [wanted, reached] = [reference, proof].map((reading) => asHeard(reading.traits.loudness.contour));
  const both = pairs(reference, proof, (reading) => (reading === reference ? wanted : reached));
  const lufs = heardLoudness(reference);
  const own = heardLoudness(proof);
  if (both.length < 8 || lufs === null || own === null) return undefined;
  return rms(both.map(([a, b]) => Math.max(-20, Math.min(20, a - lufs - (b - own)))));
}
