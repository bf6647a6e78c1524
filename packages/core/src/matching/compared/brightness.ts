import type { Reading } from '../../reading/schema';
import { OPEN_HZ } from '../../reading/spectra/filterTrack';
import { type ComparedTrait, between, pairs, rms } from './comparedTrait';

const centroid = (reading: Reading) => reading.traits.brightness.centroidHz;
const cutoff = (reading: Reading) => reading.traits.brightness.cutoffHz;
const heard = (cutoffHz: number) => Math.min(OPEN_HZ, cutoffHz);
const fall = (reading: Reading) => {
  const { sweep } = reading.traits.brightness;
  return sweep === null ? null : 12 * Math.log2(heard(sweep.toHz) / heard(sweep.fromHz));
};
const resonance = ({ traits: { brightness } }: Reading) => (brightness.sweep === null ? null : brightness.resonanceDb);

/** Centroid a tenth of an octave, cutoff a sixth of an octave, resonance 2 dB: from memory. */
export const brightness: readonly ComparedTrait[] = [
  {
    trait: 'centroid',
    label: 'Brightness',
    unit: 'Hz',
    value: centroid,
    distance: between(centroid, (a, b) => Math.log2(b / a) / 0.1),
    wording: {
      more: 'The patch is too bright',
      less: 'The patch is too dull',
      closes: 'Move the cutoff of the low-pass.',
    },
  },
  {
    trait: 'cutoff',
    label: 'Cutoff',
    unit: 'Hz',
    value: cutoff,
    distance: between(cutoff, (a, b) => Math.log2(heard(b) / heard(a)) * 6),
    wording: {
      more: 'The low-pass is too open',
      less: 'The low-pass is too closed',
      closes: 'Move the cutoff of the low-pass.',
    },
  },
  {
    trait: 'brightnessFall',
    label: 'Brightness movement',
    unit: 'st',
    value: fall,
    distance: between(fall, (a, b) => (a - b) / 3),
    wording: {
      more: 'The brightness falls too little',
      less: 'The brightness falls too far',
      closes: 'Move the amount from the filter contour to the cutoff.',
    },
  },
  {
    trait: 'brightnessContour',
    label: 'Brightness over time',
    unit: 'octaves',
    value: () => null,
    distance: brightnessContourDistance,
    wording: {
      more: 'The brightness moves differently over time',
      less: 'The brightness moves differently over time',
      closes: 'Compare the brightness lanes; change the filter contour.',
    },
  },
  {
    trait: 'resonance',
    label: 'Resonance',
    unit: 'dB',
    value: resonance,
    distance: between(resonance, (a, b) => (a - b) / 2),
    wording: {
      more: 'The filter rings too much',
      less: 'The filter rings too little',
      closes: 'Move Resonance of the low-pass.',
    },
  },
];

/** RMS difference of the centroids in octaves; 0.15 octave of a moving centroid is one JND. */
function brightnessContourDistance(reference: Reading, proof: Reading): number | undefined {
  const both = pairs(reference, proof, (reading) => reading.traits.brightness.contour);
  return both.length < 8 ? undefined : rms(both.map(([a, b]) => Math.log2(b / a))) / 0.15;
}
