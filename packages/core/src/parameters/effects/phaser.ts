import { adding, bySemitones, linear, log } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { apartCycles, feedback, outputDb, rateHz, wet } from './shared';

export const phaser = defineEffect({
  kind: 'phaser',
  title: 'Phaser',
  purpose: 'notches that move, or stand',
  heard: 'soft notches that pass through the tone',
  parameters: {
    stages: linear('Stages', '', [2, 24], 6, 2, ['motion', 'brightness']),
    centreHz: log('Centre', 'Hz', [20, 20000], 900, 0.1, ['motion', 'brightness'], bySemitones),
    spreadOctaves: linear('Spread', 'octaves', [0, 8], 1, 0.01, ['brightness'], adding('octaves', 8)),
    feedback: feedback(30),
    rateHz: rateHz(0.2),
    depthOctaves: linear('Depth', 'octaves', [0, 6], 2, 0.01, ['motion'], adding('octaves', 6)),
    apartCycles: apartCycles(0.15),
    mix: wet(50),
    outputDb,
  },
  detail: ({ stages, centreHz }) => `${stages} stages at ${formatValue(centreHz, 'Hz')}`,
});
