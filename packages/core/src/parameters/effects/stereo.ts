import { adding, level, linear, pan } from '../build';
import { formatValue } from '../format';
import { switched } from './choices';
import { defineEffect } from './defineEffect';
import { monoBelowHz, wet } from './shared';

export const stereo = defineEffect({
  kind: 'stereo',
  title: 'Stereo',
  purpose: 'level, place and width',
  heard: 'the place and the width of the tone, nothing of its colour',
  parameters: {
    gainDb: level('Gain', ['loudness']),
    pan: pan('Pan'),
    width: linear('Width', '%', [0, 200], 100, 0.1, ['width'], adding('%', 200)),
    monoBelowHz,
    mix: wet(),
  },
  choices: {
    turnLeft: switched('Turn left'),
    turnRight: switched('Turn right'),
    /** Whether a constant is taken away. */
    removeDc: switched('Remove DC'),
  },
  detail: ({ width, gainDb }) => `${formatValue(width, '%')} wide, ${formatValue(gainDb, 'dB')}`,
});
