import { formatValue } from '../parameters/format';
import type { Unit } from '../parameters/parameter';
import type { Gap } from './gaps';

/** What a gap says in words, and what closes it. */
export interface GapAdvice {
  sentence: string;
  closes: string;
}

interface Wording {
  more: string;
  less: string;
  closes: string;
}

/** By trait: how it sounds when the patch has more or less of it than the reference, and where to turn. */
const wordings: Record<string, Wording> = {
  pitch: { more: 'The patch is sharp', less: 'The patch is flat', closes: 'Move Fine of the source.' },
  attack: { more: 'The attack is too slow', less: 'The attack is too fast', closes: 'Move Attack of the amp contour.' },
  decay: {
    more: 'The level falls too slowly',
    less: 'The level falls too fast',
    closes: 'Move Decay of the amp contour.',
  },
  sustain: {
    more: 'The held level is too high',
    less: 'The held level is too low',
    closes: 'Move Sustain of the amp contour.',
  },
  release: {
    more: 'The note rings too long',
    less: 'The note ends too soon',
    closes: 'Move Release of the amp contour.',
  },
  centroid: {
    more: 'The patch is too bright',
    less: 'The patch is too dull',
    closes: 'Move the cutoff of the low-pass.',
  },
  cutoff: {
    more: 'The low-pass is too open',
    less: 'The low-pass is too closed',
    closes: 'Move the cutoff of the low-pass.',
  },
  brightnessFall: {
    more: 'The brightness falls too little',
    less: 'The brightness falls too far',
    closes: 'Move the amount from the filter contour to the cutoff.',
  },
  oddMinusEven: {
    more: 'The patch is too hollow',
    less: 'The patch is not hollow enough',
    closes: 'Change the source’s shape or table.',
  },
  tilt: {
    more: 'The high partials are too strong',
    less: 'The high partials are too weak',
    closes: 'Change the source or the cutoff.',
  },
  levelContour: {
    more: 'The level does not follow the reference over time',
    less: 'The level does not follow the reference over time',
    closes: 'Compare the level lanes; change the amp contour.',
  },
  brightnessContour: {
    more: 'The brightness moves differently over time',
    less: 'The brightness moves differently over time',
    closes: 'Compare the brightness lanes; change the filter contour.',
  },
  partials: {
    more: 'The partials have other levels than the reference',
    less: 'The partials have other levels than the reference',
    closes: 'Compare the partials; change the source’s shape or table.',
  },
  resonance: {
    more: 'The filter rings too much',
    less: 'The filter rings too little',
    closes: 'Move Resonance of the low-pass.',
  },
  vibratoDepth: {
    more: 'The vibrato is too deep',
    less: 'The vibrato is too shallow',
    closes: 'Route an LFO to Fine of the source, or move its amount.',
  },
  vibratoRate: {
    more: 'The vibrato is too fast',
    less: 'The vibrato is too slow',
    closes: 'Move the rate of the LFO.',
  },
  noise: {
    more: 'There is too much noise',
    less: 'Noise is missing',
    closes: 'Add a noise source, or move its level.',
  },
  detune: {
    more: 'The voices are too far apart',
    less: 'The voices are too close',
    closes: 'Move Voices and Detune of the source.',
  },
  width: {
    more: 'The patch is too wide',
    less: 'The patch is too narrow',
    closes: 'Move the stereo spread of the source.',
  },
  motionRate: {
    more: 'It does not move as the reference does',
    less: 'It does not move as the reference does',
    closes: 'Look at the cause on Read; route an LFO of that rate.',
  },
  echo: {
    more: 'The echoes are not those of the reference',
    less: 'The echoes are not those of the reference',
    closes: 'The time and its feedback stand on Read.',
  },
  room: {
    more: 'The room is not that of the reference',
    less: 'The room is not that of the reference',
    closes: 'The reverberation time stands on Read.',
  },
};

/** A gap as a sentence: what is heard, both values, and the control that closes it. */
export function adviceFor({ trait, label, reference, proof, unit }: Gap): GapAdvice {
  const wording = wordings[trait] ?? { more: `${label} differs`, less: `${label} differs`, closes: '' };
  if (reference === null || proof === null) return { sentence: `${wording.more}.`, closes: wording.closes };
  const show = (value: number) => formatValue(value, unit as Unit);
  const heard = proof > reference ? wording.more : wording.less;
  return {
    sentence: `${heard}: ${show(reference)} in the reference, ${show(proof)} in the patch.`,
    closes: wording.closes,
  };
}
