import { z } from 'zod';
import { confidence, found, number, series } from '../../documentParts';

export const brightnessSchema = z.object({
  centroidHz: found,
  cutoffHz: found,
  slopeDbPerOctave: found,
  /** Gain at the cutoff over that of a Butterworth low-pass. */
  resonanceDb: found,
  filterKind: z.enum(['lowpass', 'highpass', 'bandpass']).nullable(),
  /** Edge of a high-pass that stands still, which would explain weak low partials. */
  highpassHz: found,
  highpassSlopeDbPerOctave: found,
  /** A notch that goes through the partials once. */
  notch: z.object({ fromHz: number, toHz: number, seconds: number, depthDb: number }).nullable(),
  sweep: z.object({ fromHz: number, toHz: number, seconds: number }).nullable(),
  /** Centroid over time, Hz. */
  contour: series,
  /** Cutoff of the explaining low-pass over time, Hz. */
  cutoffContour: series,
  confidence,
});
