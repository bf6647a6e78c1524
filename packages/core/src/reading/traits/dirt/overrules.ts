import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const dirtOverrules = {
  bits: overrulable('Bits', ['bits'], '', 1, 24),
};
