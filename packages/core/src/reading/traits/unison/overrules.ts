import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const unisonOverrules = {
  detuneCents: overrulable('Detune', ['detuneCents'], 'ct', 0, 200),
  voices: overrulable('Voices', ['voices'], '', 1, 16),
};
