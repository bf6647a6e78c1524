import { adding, linear, log, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { highCut, lowCut, outputDb, wet } from './shared';

export const reverb = defineEffect({
  kind: 'reverb',
  title: 'Reverb',
  purpose: 'a room',
  heard: 'a room around the tone, and a tail after it',
  parameters: {
    rt60Seconds: log('RT60', 's', [0.1, 30], 1.8, 0.01, ['space'], adding('s', 30)),
    size: linear('Size', '%', [10, 200], 100, 1, ['space']),
    preDelaySeconds: log('Pre-delay', 's', [0, 0.3], 0.01, 0.001, ['space']),
    damping: share('Damping', 30, ['space', 'brightness']),
    diffusion: share('Diffusion', 70, ['space']),
    lowCutHz: lowCut(80),
    highCutHz: highCut(12000),
    modulation: share('Modulation', 15, ['motion']),
    width: share('Width', 100, ['width']),
    mix: wet(25),
    outputDb,
  },
  detail: ({ rt60Seconds, mix }) => `${formatValue(rt60Seconds, 's')}, ${formatValue(mix, '%')}`,
});
