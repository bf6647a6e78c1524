import { DECAY_TAUS } from '../../patch/envelopeCurve';
import { lfoSchema } from '../../patch/schemas/modulatorSchema';
import { type Explainer, type Hypothesis, fallingEnvelope, freedoms, route, routeId, short } from './hypothesis';

/** A slide is told by the time until a tenth of it is left, a decay by its time constants. */
const decayOf = (seconds: number) => (DECAY_TAUS * seconds) / Math.LN10;

const PITCH = { moduleId: 'layer', parameter: 'semitones' };

/** Vibrato, a slide at the start, a glide from note to note. */
export const explainPitchMovement: Explainer = ({ note, notes, glideSeconds }) => {
  const { pitch } = note.reading.traits;
  const found: Hypothesis[] = [];
  const { vibrato, sweep } = pitch;
  const glides = glideSeconds !== null && notes.length > 1;
  if (vibrato) {
    const { rateHz, depthCents, onsetSeconds } = vibrato;
    const id = routeId('vibrato', PITCH);
    // The depth is reached gradually: half of it at the onset that was told.
    const fadeInSeconds = onsetSeconds > 0.08 ? 2 * onsetSeconds : 0;
    found.push({
      name: 'vibrato',
      stage: 'pitch',
      confidence: pitch.confidence,
      why: `the pitch goes up and down ${short(depthCents)} cents ${short(rateHz)} times a second`,
      apply: (layer) => {
        const lfo = lfoSchema.parse({
          kind: 'lfo',
          id: 'vibrato',
          name: 'Vibrato',
          shape: 'sine',
          rateHz,
          fadeInSeconds,
        });
        route(layer, lfo, PITCH, depthCents / 100, 'bipolar');
      },
      freedoms: [
        ...freedoms('vibrato', 'pitch', {
          startPhaseCycles: 0.25,
          ...(fadeInSeconds > 0 ? { fadeInSeconds: 0.05 } : {}),
        }),
        ...freedoms(id, 'pitch', { amount: 0.00015 * Math.max(5, depthCents) }),
      ],
      brings: [id],
    });
  }
  // Of a note by itself, the slide from the one before looks like its own.
  if (sweep && !glides) {
    const id = routeId('pitch-fall', PITCH);
    const isFall = sweep.semitones > 0;
    found.push({
      name: isFall ? 'pitch drop' : 'slide up',
      stage: 'pitch',
      confidence: pitch.confidence,
      why: `the pitch comes from ${short(Math.abs(sweep.semitones))} st ${isFall ? 'above' : 'below'} within ${short(sweep.seconds)} s`,
      apply: (layer) => {
        const envelope = fallingEnvelope('pitch-fall', isFall ? 'Pitch drop' : 'Slide up', decayOf(sweep.seconds));
        route(layer, envelope, PITCH, Math.max(-96, Math.min(96, sweep.semitones)));
      },
      freedoms: [
        ...freedoms(id, 'pitch', { amount: 0.005 }),
        ...freedoms('pitch-fall', 'pitch', { decaySeconds: 0.04 }),
      ],
      brings: [id],
    });
  }
  if (glides) {
    found.push({
      name: 'glide',
      stage: 'pitch',
      confidence: pitch.confidence,
      why: `notes slide into one another within ${short(glideSeconds)} s`,
      apply: (layer) => {
        layer.voice = { ...layer.voice, mode: 'legato', glide: 'overlap', glideSeconds };
      },
      freedoms: [],
      brings: [],
    });
  }
  return found;
};
