import { adding, log } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { apartCycles, feedback, outputDb, rateHz, wet } from './shared';

export const flanger = defineEffect({
  kind: 'flanger',
  title: 'Flanger',
  purpose: 'one short delay that swings, fed back',
  heard: 'a hollow whoosh that goes up and down',
  parameters: {
    delaySeconds: log('Delay', 's', [0.0001, 0.01], 0.001, 0.00001, ['motion', 'brightness'], adding('s', 0.01)),
    depthSeconds: log('Depth', 's', [0, 0.01], 0.003, 0.00001, ['motion'], adding('s', 0.01)),
    rateHz: rateHz(0.15),
    feedback: feedback(50),
    apartCycles: apartCycles(0.25),
    mix: wet(50),
    outputDb,
  },
  detail: ({ rateHz: rate, feedback: back }) => `${formatValue(rate, 'Hz')}, ${formatValue(back, '%')}`,
});
