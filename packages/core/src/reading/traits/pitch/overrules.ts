import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const pitchOverrules = {
  f0Hz: overrulable('Fundamental', ['f0Hz'], 'Hz', 16, 8000),
  vibratoRateHz: overrulable('Vibrato rate', ['vibrato', 'rateHz'], 'Hz', 0.1, 20),
  vibratoDepthCents: overrulable('Vibrato depth', ['vibrato', 'depthCents'], 'ct', 0, 1200),
};
