import { adding, linear } from '../build';
import { formatValue } from '../format';
import { oneOf } from './choices';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

const cabinets = {
  openBack: 'open back',
  closedBack: 'closed back',
  smallSpeaker: 'small speaker',
  horn: 'horn',
  telephone: 'telephone',
} as const;

export const cabinet = defineEffect({
  kind: 'cabinet',
  title: 'Amp and cabinet',
  purpose: 'a tube stage into a loudspeaker',
  heard: 'rougher and boxed in, without the very top, as from a loudspeaker',
  parameters: {
    driveDb: linear('Drive', 'dB', [0, 36], 6, 0.1, ['dirt', 'partials'], adding('dB', 36)),
    bodyDb: linear('Body', 'dB', [-12, 12], 0, 0.1, ['brightness'], adding('dB', 24)),
    presenceDb: linear('Presence', 'dB', [-12, 12], 0, 0.1, ['brightness'], adding('dB', 24)),
    mix: wet(),
    outputDb,
  },
  choices: {
    cabinet: oneOf('Cabinet', cabinets, 'openBack'),
  },
  detail: ({ cabinet: kind, driveDb }) => `${cabinets[kind]}, ${formatValue(driveDb, 'dB')}`,
});
