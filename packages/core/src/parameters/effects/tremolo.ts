import { byOctaves, log, share } from '../build';
import { formatValue } from '../format';
import { lfoShapeTitles } from '../shapes';
import { inDivisionOr, line, oneOf } from './choices';
import { defineEffect } from './defineEffect';
import { apartCycles, outputDb, wet } from './shared';

export const tremolo = defineEffect({
  kind: 'tremolo',
  title: 'Tremolo and auto-pan',
  purpose: 'the level goes up and down, or from side to side',
  heard: 'the level goes up and down, or from side to side',
  parameters: {
    rateHz: log('Rate', 'Hz', [0.01, 40], 4, 0.01, ['motion'], byOctaves),
    depth: share('Depth', 50, ['motion', 'loudness']),
    apartCycles: apartCycles(0),
    mix: wet(),
    outputDb,
  },
  choices: {
    shape: oneOf('Shape', lfoShapeTitles, 'sine'),
    /** One turn, where it is drawn: 1 at the top. */
    drawnTurn: line(
      'Level over one turn',
      [0, 1],
      [0, 1],
      [
        { x: 0, y: 1 },
        { x: 0.5, y: 0 },
        { x: 1, y: 1 },
      ],
    ),
    division: inDivisionOr('Rate by', 'in Hz'),
  },
  hidden: ({ shape, division }) => [
    ...(division === null ? [] : (['rateHz'] as const)),
    ...(shape === 'drawn' ? [] : (['drawnTurn'] as const)),
  ],
  detail: ({ division, rateHz, depth }) => `${division ?? formatValue(rateHz, 'Hz')}, ${formatValue(depth, '%')}`,
});
