import { adding, linear, log, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { outputDb, semitones, wet } from './shared';

export const grainDelay = defineEffect({
  kind: 'grainDelay',
  title: 'Grain delay',
  purpose: 'what was played, in short pieces',
  heard: 'a cloud of short pieces around the tone',
  parameters: {
    timeSeconds: log('Time', 's', [0.01, 2], 0.25, 0.001, ['space'], adding('s', 2)),
    sizeSeconds: log('Size of a grain', 's', [0.005, 0.5], 0.08, 0.001, ['space', 'noise']),
    density: log('At a time', '', [0.5, 12], 3, 0.1, ['space'], adding('', 12)),
    spraySeconds: log('Spray', 's', [0, 1], 0.05, 0.001, ['space', 'noise'], adding('s', 1)),
    semitones,
    randomSemitones: linear('Random pitch', 'st', [0, 24], 0, 0.01, ['pitch'], adding('st', 24)),
    feedback: { ...share('Feedback', 0, ['space']), max: 95 },
    width: share('Width', 60, ['width']),
    mix: wet(40),
    outputDb,
  },
  detail: ({ timeSeconds, mix }) => `${formatValue(timeSeconds, 's')}, ${formatValue(mix, '%')}`,
});
