import { adding, log } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { outputDb, toneHz, tuning, wet } from './shared';

export const ringModulator = defineEffect({
  kind: 'ringModulator',
  title: 'Ring modulator',
  purpose: 'each partial becomes two, beside a sine',
  heard: 'metallic, with tones above and below those that were there',
  parameters: {
    toneHz: toneHz(180),
    ratio: log('Ratio to the note', '', [0.125, 16], 1.5, 0.001, ['partials'], adding('', 16)),
    mix: wet(),
    outputDb,
  },
  choices: {
    tuning,
  },
  hidden: ({ tuning: by }) => [by === 'note' ? 'toneHz' : 'ratio'],
  detail: ({ tuning: by, ratio, toneHz: hz }) =>
    by === 'note' ? `${formatValue(ratio, '')} to the note` : formatValue(hz, 'Hz'),
});
