import { integratedLoudness } from '../../dsp/loudness';
import type { Audio } from '../audio';
import type { Reading } from '../schema';

/** BS.1770 adds channels up, so the same sound from two sides is this much louder than from one. */
const DUAL_MONO_LU = 10 * Math.log10(2);

/**
 * Loudness as it is heard when played: a mono sound comes from both sides. The reading itself gives the
 * loudness of the file, as the recommendation has it. Null when the sound is too quiet to have one.
 */
export function heardLoudness({ channels, traits }: Reading): number | null {
  const { lufs } = traits.loudness;
  return lufs === null ? null : lufs + (channels === 1 ? DUAL_MONO_LU : 0);
}

/** The same of a sound that was not read; −Infinity when it is too quiet to have one. */
export const heardLoudnessOf = ({ channels, sampleRateHz }: Audio): number =>
  integratedLoudness(channels, sampleRateHz) + (channels.length === 1 ? DUAL_MONO_LU : 0);
