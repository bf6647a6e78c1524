import { explainTunedNoise } from '../tunedNoise';
import { type StructureKind, isNot } from './structure';

/** Noise through a narrow band-pass, which is heard as a note. */
export const tunedNoise: StructureKind = ({ evidence, unfiltered }) => {
  const explained = explainTunedNoise(evidence);
  if (explained.length === 0) return [];
  return [
    { name: 'noise through a tuned band-pass', hypotheses: [...explained, ...unfiltered.filter(isNot('noise'))] },
  ];
};
