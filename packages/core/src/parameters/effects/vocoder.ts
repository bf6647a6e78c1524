import { adding, linear, share } from '../build';
import { otherLayer, switched } from './choices';
import { defineEffect } from './defineEffect';
import { attackSeconds, outputDb, releaseSeconds, wet } from './shared';

export const vocoder = defineEffect({
  kind: 'vocoder',
  title: 'Vocoder',
  purpose: 'the spectrum of one sound upon another',
  heard: 'the tone speaks with the movements of the other sound',
  parameters: {
    bands: linear('Bands', '', [8, 64], 24, 1, ['brightness', 'partials']),
    formantSemitones: linear('Shift of the bands', 'st', [-24, 24], 0, 0.1, ['brightness'], adding('st', 48)),
    tiltDbPerOctave: linear('Tilt', 'dB/oct', [-6, 6], 0, 0.1, ['brightness'], adding('dB/oct', 12)),
    attackSeconds: { ...attackSeconds, default: 0.004 },
    releaseSeconds: { ...releaseSeconds, default: 0.05 },
    noise: share('Noise as carrier', 0, ['noise']),
    mix: wet(),
    outputDb,
  },
  choices: {
    /** What gives its spectrum: a layer, else a sample of the patch, else what goes through it. */
    keyLayerId: otherLayer('Spectrum of', 'itself'),
    sampleId: { of: 'sample', label: 'Spectrum of' },
    /** Whether it is lifted to the level of what goes through. */
    makeUp: switched('Makes up', true),
  },
  hidden: ({ keyLayerId }) => (keyLayerId === null ? [] : ['sampleId']),
  detail: ({ bands }) => `${bands} bands`,
});
