import { adding, linear, share } from '../build';
import { formatValue } from '../format';
import { defineEffect } from './defineEffect';
import { outputDb, wet } from './shared';

export const vowelFilter = defineEffect({
  kind: 'vowelFilter',
  title: 'Vowel filter',
  purpose: 'formants of a voice',
  heard: 'the tone sings a vowel',
  parameters: {
    vowel: share('Vowel, a e i o u', 0, ['partials', 'brightness']),
    shiftSemitones: linear('Formant shift', 'st', [-24, 24], 0, 0.1, ['brightness'], adding('st', 48)),
    resonanceDb: linear('Resonance', 'dB', [0, 36], 18, 0.1, ['partials'], adding('dB', 36)),
    mix: wet(),
    outputDb,
  },
  detail: ({ vowel }) => `${formatValue(vowel, '%')} along a e i o u`,
});
