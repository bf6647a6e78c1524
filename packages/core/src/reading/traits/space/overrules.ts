import { overrulable } from '../overrulable';

/** What of the trait can be set by hand. */
export const spaceOverrules = {
  rt60Seconds: overrulable('Reverberation time', ['rt60Seconds'], 's', 0, 60),
  preDelaySeconds: overrulable('Pre-delay', ['preDelaySeconds'], 's', 0, 0.5),
  echoSeconds: overrulable('Echo time', ['echo', 'seconds'], 's', 0, 10),
};
