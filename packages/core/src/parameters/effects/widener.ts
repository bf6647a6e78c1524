import { adding, linear, log } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { monoBelowHz, outputDb, wet } from './shared';

export const widener = defineEffect({
  kind: 'widener',
  title: 'Widener',
  purpose: 'each side a little of the other, later and out of tune',
  heard: 'wider, with nothing lost in the middle',
  parameters: {
    detuneCents: linear('Detune', 'ct', [0, 50], 8, 0.1, ['width', 'unison'], adding('ct', 50)),
    crossSeconds: log('Across after', 's', [0.02, 0.06], 0.024, 0.0001, ['width'], adding('s', 0.04)),
    monoBelowHz: { ...monoBelowHz, default: 120 },
    mix: wet(60),
    outputDb,
  },
  detail: ({ detuneCents, monoBelowHz: below }) =>
    `${formatValue(detuneCents, 'ct')}, mono below ${formatValue(below, 'Hz')}`,
});
