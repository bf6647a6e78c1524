import { z } from 'zod';
import type { IsolatedTone } from '../reading/audio';
import { SURE_VOICES } from '../reading/movement/unison';
import type { Reading } from '../reading/schema';
import type { HeardOf } from './distance/listeningDistance';
import { Listener, listeningDistance } from './distance/listeningDistance';
import { gapSchema, gapsBetween } from './gaps';

export const comparisonSchema = z.object({
  /** The listening distance, scaled so that 1 is just noticeable. */
  overallJnd: z.number().min(0),
  /** The same in dB of auditory bands; missing in what was kept before there was one. */
  listeningDb: z.number().min(0).optional(),
  traits: z.array(
    gapSchema.extend({
      /** How much of the overall distance it explains, JND; all of them add up to it. */
      explainsJnd: z.number().min(0).optional(),
    }),
  ),
});

/** How far two tones are apart: as heard, and trait by trait. */
export type Comparison = z.infer<typeof comparisonSchema>;

/** A sound and what was measured of it. */
export interface Tone extends IsolatedTone {
  reading: Reading;
}

/** A trait explains at most as much as this would: one broken reading does not drown the rest. */
const EXPLAINS_LIMIT_JND = 12;

/**
 * Compares two tones, by listening distance and trait by trait, the widest gap first.
 *
 * @param isPrint whether the second was printed over the first, so that both run by one clock; else they are
 *   laid upon one another by their onsets
 */
export function compareTones(reference: Tone, proof: Tone, isPrint = false): Comparison {
  const heard = heardOf(reference);
  const { overallJnd, listeningDb } = isPrint
    ? new Listener(reference.audio, heard).compare(proof.audio)
    : listeningDistance(reference.audio, proof.audio, heard);
  const gaps = gapsBetween(reference.reading, proof.reading);
  const squareOf = ({ gapJnd }: { gapJnd: number }) => Math.min(EXPLAINS_LIMIT_JND, gapJnd) ** 2;
  const squares = gaps.reduce((sum, gap) => sum + squareOf(gap), 0);
  return {
    overallJnd: rounded(overallJnd),
    listeningDb: rounded(listeningDb),
    // Squares of distances add up, as those of independent differences do.
    traits: gaps.map((gap) => ({
      ...gap,
      explainsJnd: squares > 0 ? rounded((overallJnd * squareOf(gap)) / squares) : 0,
    })),
  };
}

const rounded = (x: number) => Math.round(1000 * x) / 1000;

/**
 * What the distance wants to know of a reference: when notes begin and end, whether voices beat, what else
 * sounds.
 */
export function heardOf({ reading, surroundings }: Omit<Tone, 'audio'>): Omit<HeardOf, 'seconds'> {
  const { notes, traits } = reading;
  const { f0Hz } = traits.pitch;
  const { detuneCents, confidence } = traits.unison;
  return {
    surroundings,
    events: notes.flatMap(({ onsetSeconds, durationSeconds }) => [onsetSeconds, onsetSeconds + durationSeconds]),
    freeVoices:
      f0Hz && detuneCents && confidence >= SURE_VOICES
        ? { f0Hz, detuneCents, hasSub: traits.sources.parts.some(({ semitones }) => semitones < 0) }
        : undefined,
  };
}
