import { adding, bySemitones, linear, log, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

export const reducer = defineEffect({
  kind: 'reducer',
  title: 'Bit and rate reducer',
  purpose: 'fewer bits, a lower rate',
  heard: 'grain and a rough top that does not belong to the tone',
  parameters: {
    bits: linear('Bits', '', [1, 24], 8, 0.01, ['dirt'], adding('', 24)),
    rateHz: log('Holds at', 'Hz', [100, 96000], 96000, 1, ['dirt', 'brightness'], bySemitones),
    jitter: share('Jitter', 0, ['dirt', 'noise']),
    toneHz: log('Low-pass behind', 'Hz', [20, 20000], 20000, 0.1, ['brightness'], bySemitones),
    mix: wet(),
    outputDb,
  },
  detail: ({ bits }) => `${formatValue(bits, '')} bits`,
});
