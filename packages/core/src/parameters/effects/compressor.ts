import { adding, linear, log } from '../build';
import { formatValue } from '../format';
import { oneOf, otherLayer, switched } from './choices';
import { defineEffect } from './defineEffect';
import { attackSeconds, lowCut, releaseSeconds, thresholdDb, wet } from './shared';

export const compressor = defineEffect({
  kind: 'compressor',
  title: 'Compressor',
  purpose: 'evens out what is loud',
  heard: 'soft and loud moments come closer together; the attack stands out less or more',
  parameters: {
    thresholdDb,
    ratio: log('Ratio', '', [1, 100], 4, 0.1, ['loudness'], adding('', 100)),
    kneeDb: linear('Knee', 'dB', [0, 36], 6, 0.1, ['loudness']),
    attackSeconds,
    releaseSeconds,
    keyLowCutHz: { ...lowCut(10), label: 'Low cut of the key', moves: ['loudness'] },
    makeUpDb: linear('Make-up', 'dB', [-24, 36], 0, 0.1, ['loudness'], adding('dB', 60)),
    mix: wet(),
  },
  choices: {
    detector: oneOf('Hears', { peak: 'peaks', rms: 'mean power' }, 'peak'),
    autoMakeUp: switched('Makes up'),
    /** Heard in place of what goes through it. */
    keyLayerId: otherLayer('Listens to', 'itself'),
  },
  detail: ({ ratio, thresholdDb: over }) => `${formatValue(ratio, '')} : 1 over ${formatValue(over, 'dB')}`,
});
