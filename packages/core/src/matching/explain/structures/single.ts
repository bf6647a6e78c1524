import { sourceSchema } from '../../../patch/schemas/sourceSchema';
import { SURE_VOICES } from '../../../reading/movement/unison';
import type { Evidence, Hypothesis } from '../hypothesis';
import { voiceCount, offsetCents } from '../sources';

const single = (shape: 'sine' | 'saw', { note, midi }: Evidence): Hypothesis => ({
  name: shape,
  stage: 'sources',
  confidence: 0.5,
  why: `one ${shape} says as much`,
  apply: (layer) => {
    const { unison, pitch } = note.reading.traits;
    const spread =
      shape === 'saw' && unison.detuneCents !== null && unison.confidence >= SURE_VOICES
        ? {
            unisonVoices: voiceCount(unison.voices),
            unisonDetuneCents: unison.detuneCents,
            startPhaseRandom: 100,
          }
        : {};
    const cents = Math.round(10 * offsetCents(pitch, midi)) / 10;
    layer.sources.push(sourceSchema.parse({ kind: 'shape', id: 'source-1', name: shape, shape, cents, ...spread }));
  },
  freedoms: [],
  brings: [],
});

/** One sine in place of all sources. */
export const sine = (evidence: Evidence) => single('sine', evidence);
/** One saw in place of all sources, as wide as its voices. */
export const saw = (evidence: Evidence) => single('saw', evidence);
