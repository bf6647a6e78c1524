import { adding, log, share } from '../build';
import { formatValue } from '../format';
import { switched } from './choices';
import { defineEffect } from './defineEffect';
import { outputDb, semitones, toneHz, tuning, wet } from './shared';

export const resonator = defineEffect({
  kind: 'resonator',
  title: 'Resonator',
  purpose: 'rings at a pitch, as a string does',
  heard: 'a ringing at its own pitch behind every note',
  parameters: {
    toneHz: { ...toneHz(220), min: 16 },
    semitones: { ...semitones, label: 'From the pitch' },
    decaySeconds: log('Decay', 's', [0.01, 20], 0.8, 0.01, ['space', 'partials'], adding('s', 20)),
    damping: share('Damping', 30, ['brightness']),
    mix: wet(40),
    outputDb,
  },
  choices: {
    tuning,
    /** As in a pipe closed at one end. */
    hollow: switched('Odd partials only'),
  },
  hidden: ({ tuning: by }) => [by === 'note' ? 'toneHz' : 'semitones'],
  detail: ({ tuning: by, semitones: steps, toneHz: hz, decaySeconds }) =>
    `${by === 'note' ? formatValue(steps, 'st') : formatValue(hz, 'Hz')}, ${formatValue(decaySeconds, 's')}`,
});
