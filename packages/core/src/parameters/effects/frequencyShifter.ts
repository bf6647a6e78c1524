import { adding, linear, share } from '../build';
import { formatValue } from '../format';
import { switched } from './choices';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

export const frequencyShifter = defineEffect({
  kind: 'frequencyShifter',
  title: 'Frequency shifter',
  purpose: 'every partial as many hertz away',
  heard: 'partials out of their places: metallic, no longer a clear pitch',
  parameters: {
    shiftHz: linear('Shift', 'Hz', [-2000, 2000], 5, 0.1, ['partials', 'pitch', 'motion'], adding('Hz', 4000)),
    feedback: { ...share('Feedback', 0, ['space', 'motion']), max: 95 },
    mix: wet(),
    outputDb,
  },
  choices: {
    opposite: switched('Right side the other way'),
  },
  detail: ({ shiftHz }) => formatValue(shiftHz, 'Hz'),
});
