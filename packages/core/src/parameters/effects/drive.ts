import { bySemitones, log } from '../build';
import { shaperParameters } from '../filterParameters';
import { formatValue } from '../format';
import { shaperTitles } from '../shapes';
import { line, oneOf, switched } from './choices';
import { defineEffect } from './defineEffect';
import { wet } from './shared';

export const drive = defineEffect({
  kind: 'drive',
  title: 'Drive',
  purpose: 'a curve that bends the wave, oversampled',
  heard: 'rougher and fuller, the more so the louder it is played',
  parameters: {
    ...shaperParameters,
    mix: wet(),
    toneHz: log('Low-pass', 'Hz', [20, 20000], 20000, 0.1, ['brightness'], bySemitones),
  },
  choices: {
    curve: oneOf('Curve', shaperTitles, 'soft'),
    drawnCurve: line(
      'Drawn curve: output over input',
      [-1, 1],
      [-1, 1],
      [
        { x: -1, y: -1 },
        { x: 1, y: 1 },
      ],
    ),
    /** Where its own low-pass stands: a filter before a drive sings, one behind it dulls. */
    tone: oneOf('Low-pass', { before: 'before the curve', behind: 'behind the curve' }, 'behind'),
    matchLevel: switched('As loud as before'),
  },
  hidden: ({ curve }) => (curve === 'drawn' ? [] : ['drawnCurve']),
  detail: ({ curve, driveDb }) => `${shaperTitles[curve]}, ${formatValue(driveDb, 'dB')}`,
});
