import { z } from 'zod';
import { confidence, found, series } from '../../documentParts';

/** A sine whose phase another moves; null of harmonic tones, which need none. */
export const fmSchema = z.object({
  carrierHz: found,
  /** Frequency of the modulator against the carrier's. */
  ratio: found,
  /** Radians over time. */
  index: series,
  /** How far the modulator moves its own phase, radians. */
  feedback: found,
  confidence,
});
