import { adding, linear, log, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { outputDb, semitones, wet } from './shared';

export const pitchShifter = defineEffect({
  kind: 'pitchShifter',
  title: 'Pitch shifter',
  purpose: 'higher or lower, at the same speed',
  heard: 'the whole at another pitch',
  parameters: {
    semitones: { ...semitones, default: 12 },
    apartCents: linear('Sides apart', 'ct', [0, 50], 0, 0.1, ['width', 'unison'], adding('ct', 50)),
    windowSeconds: log('Window', 's', [0.01, 0.2], 0.06, 0.001, ['pitch']),
    feedback: { ...share('Feedback', 0, ['space']), max: 95 },
    mix: wet(50),
    outputDb,
  },
  detail: ({ semitones: steps, mix }) => `${formatValue(steps, 'st')}, ${formatValue(mix, '%')}`,
});
