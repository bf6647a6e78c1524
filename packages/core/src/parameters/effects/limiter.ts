import { adding, linear } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { releaseSeconds, wet } from './shared';

export const limiter = defineEffect({
  kind: 'limiter',
  title: 'Limiter',
  purpose: 'keeps peaks under a ceiling, also between samples',
  heard: 'nothing but the loudest peaks held down',
  parameters: {
    driveDb: linear('Into it', 'dB', [-12, 36], 0, 0.1, ['loudness', 'dirt'], adding('dB', 48)),
    ceilingDb: linear('Ceiling', 'dB', [-24, 0], -1, 0.1, ['loudness']),
    releaseSeconds: { ...releaseSeconds, default: 0.08 },
    mix: wet(),
  },
  detail: ({ ceilingDb }) => `under ${formatValue(ceilingDb, 'dB')}`,
});
