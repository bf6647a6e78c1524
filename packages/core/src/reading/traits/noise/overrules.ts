import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const noiseOverrules = {
  noiseDb: overrulable('Noise', ['levelDb'], 'dB', -100, 20),
};
