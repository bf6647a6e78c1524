import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const brightnessOverrules = {
  cutoffHz: overrulable('Cutoff', ['cutoffHz'], 'Hz', 20, 20000),
  resonanceDb: overrulable('Resonance', ['resonanceDb'], 'dB', 0, 36),
};
