import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const loudnessOverrules = {
  attackSeconds: overrulable('Attack', ['attackSeconds'], 's', 0, 60),
  holdSeconds: overrulable('Hold', ['holdSeconds'], 's', 0, 60),
  decaySeconds: overrulable('Decay', ['decaySeconds'], 's', 0, 60),
  sustainDb: overrulable('Sustain', ['sustainDb'], 'dB', -100, 0),
  releaseSeconds: overrulable('Release', ['releaseSeconds'], 's', 0, 60),
};
