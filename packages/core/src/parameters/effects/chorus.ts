import { adding, linear, log, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { feedback, lowCut, outputDb, rateHz, wet } from './shared';

export const chorus = defineEffect({
  kind: 'chorus',
  title: 'Chorus',
  purpose: 'late copies whose delays swing',
  heard: 'thicker and swaying, as several that are never quite in tune',
  parameters: {
    voices: linear('Voices', '', [1, 8], 3, 1, ['unison', 'width']),
    delaySeconds: log('Delay', 's', [0.0005, 0.05], 0.012, 0.0001, ['width', 'motion']),
    rateHz: rateHz(0.5),
    depthSeconds: log('Depth', 's', [0, 0.02], 0.003, 0.00001, ['motion', 'unison'], adding('s', 0.02)),
    feedback: feedback(0),
    lowCutHz: lowCut(120),
    width: share('Width', 100, ['width']),
    mix: wet(50),
    outputDb,
  },
  detail: ({ voices, mix }) => `${voices === 1 ? '1 voice' : `${voices} voices`}, ${formatValue(mix, '%')}`,
});
