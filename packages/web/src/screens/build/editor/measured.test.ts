import { readingOfSaw } from '../../../../test/page';
import type { Reading } from '@imprint/core/reading/schema';
import { measuredEffect } from './measured';

type Traits = Reading['traits'];

const reading = (traits: Partial<Traits>): Reading => ({
  ...readingOfSaw,
  traits: { ...readingOfSaw.traits, ...traits },
});
const moving = (cause: Traits['motion'][number]['cause'], depth: number): Traits['motion'] => [
  { ...({} as Traits['motion'][number]), of: 'loudness', cause, rateHz: 2.5, depth, confidence: 1 },
];

it.each([
  ['reverb', { space: { rt60Seconds: 1.2, preDelaySeconds: 0.02, echo: null, confidence: 1 } }, 'rt60Seconds', 1.2],
  ['tremolo', { motion: moving('tremolo', 6.02) }, 'depth', 50],
  ['ducker', { motion: moving('ducking', 9) }, 'depthDb', 9],
  ['ducker', { motion: moving('ducking', 9).map((one) => ({ ...one, middle: 300 })) }, 'belowHz', 300],
  ['phaser', { motion: moving('phaser', 2) }, 'rateHz', 2.5],
  ['flanger', { motion: moving('chorus', 2) }, 'rateHz', 2.5],
  ['reducer', { dirt: { kind: 'crush', amount: 1, bits: 8, holdHz: 11025, confidence: 1 } }, 'bits', 8],
  ['stereo', { width: { ...readingOfSaw.traits.width, monoBelowHz: 150, confidence: 1 } }, 'monoBelowHz', 150],
  ['widener', { width: { ...readingOfSaw.traits.width, delaySeconds: -0.025 } }, 'crossSeconds', 0.025],
] as const)('of a %s the ruler shows what was measured', (kind, traits, name, value) => {
  expect(measuredEffect(reading(traits as Partial<Traits>), kind)[name]?.value).toBeCloseTo(value, 1);
});

it('nothing is shown of what was not found', () => {
  for (const kind of ['ducker', 'phaser', 'flanger', 'tremolo', 'drive'] as const)
    expect(measuredEffect(reading({ motion: [] }), kind)).toEqual({});
});
