/** An envelope fitted to a contour. Times in seconds, levels in dB against the envelope's full level. */
export interface FittedContour {
  onsetSeconds: number;
  attackSeconds: number;
  holdSeconds: number;
  decaySeconds: number;
  sustainDb: number;
  /** Time of note-off, or null when the contour ends while the note is still held. */
  noteOffSeconds: number | null;
  releaseSeconds: number | null;
  /** RMS at the envelope's full level. */
  fullRms: number;
  /** RMS distance of the fit, dB, over the part within 40 dB of the top. */
  errorDb: number;
}

/** When the tone counts as sounding: from the onset to a little after note-off. */
export function soundingSpan(
  { onsetSeconds, noteOffSeconds }: FittedContour,
  durationSeconds: number,
): [number, number] {
  return [onsetSeconds, Math.max(onsetSeconds + 0.02, noteOffSeconds ?? durationSeconds)];
}
