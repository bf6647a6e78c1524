import { z } from 'zod';
import { confidence, found, number } from '../../documentParts';

export const partialsSchema = z.object({
  levelsDb: z.array(number).max(512),
  oddMinusEvenDb: found,
  tiltDbPerOctave: found,
  inharmonicity: found,
  standout: z.array(z.int()),
  nearestShape: z.enum(['sine', 'triangle', 'saw', 'square', 'pulse']).nullable(),
  pulseWidth: found,
  /**
   * Levels of the first partials over time, dB relative to the strongest of the whole cut; one list a frame.
   */
  overTime: z.object({ hopSeconds: z.number().positive(), frames: z.array(z.array(number)).max(4000) }),
  confidence,
});
