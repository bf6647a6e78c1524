import { adding, bySemitones, linear, log } from '../build';
import { formatSize } from '../format';
import { inDivision, line, oneOf, otherLayer } from './choices';
import { defineEffect } from './defineEffect';
import { releaseSeconds, thresholdDb, wet } from './shared';

const duckerKeys = { pattern: 'by a pattern', drawn: 'by a drawn line', layer: 'by a layer' } as const;

export const PATTERN_STEPS = 16;
const fourBeats = Array.from({ length: PATTERN_STEPS }, (_, step) => step % 4 === 0);

export const ducker = defineEffect({
  kind: 'ducker',
  title: 'Ducker',
  purpose: 'makes room in time with something',
  heard: 'the level makes way and comes back in time',
  parameters: {
    depthDb: linear('Depth', 'dB', [0, 60], 18, 0.1, ['motion', 'loudness'], adding('dB', 60)),
    releaseSeconds: { ...releaseSeconds, default: 0.22 },
    bend: linear('Bend', '%', [-100, 100], 0, 1, ['motion'], adding('%', 200)),
    thresholdDb: { ...thresholdDb, default: -36, label: 'Strokes over' },
    belowHz: log('Only below', 'Hz', [40, 20000], 20000, 0.1, ['brightness', 'motion'], bySemitones),
    mix: wet(),
  },
  choices: {
    key: oneOf('Ducks', duckerKeys, 'pattern'),
    /** Sixteenths that are struck, over a bar of four quarters: a stroke on every beat. */
    pattern: { of: 'pattern', label: 'Strokes in sixteenths', default: fourBeats },
    /** The drawn line is run through once in this time: 1 at its top, down by the depth at 0. */
    division: inDivision('Over', '1/4'),
    curve: line(
      'Level over the division',
      [0, 1],
      [0, 1],
      [
        { x: 0, y: 0 },
        { x: 0.2, y: 0.15 },
        { x: 0.6, y: 1 },
        { x: 1, y: 1 },
      ],
    ),
    keyLayerId: otherLayer('Layer', 'none'),
  },
  hidden: ({ key }) => {
    switch (key) {
      case 'pattern':
        return ['thresholdDb', 'division', 'curve', 'keyLayerId'];
      case 'drawn':
        return ['thresholdDb', 'releaseSeconds', 'bend', 'pattern', 'keyLayerId'];
      case 'layer':
        return ['pattern', 'division', 'curve'];
    }
  },
  detail: ({ key, depthDb }) => `${duckerKeys[key]}, ${formatSize(depthDb, 'dB')} down`,
});
