/**
 * How long sounds go on that nothing feeds any more. Of a resonance, ln(1000)·Q/(π·f); of what goes round, a
 * round by its gain in dB.
 */

/** Seconds until a resonance has fallen by 60 dB. */
export const ringing = (hz: number, q: number): number => (Math.log(1000) * q) / (Math.PI * hz);

/** Seconds until what goes round, by a gain in per cent, has fallen by 60 dB. */
export function rounds(feedbackPercent: number, roundSeconds: number): number {
  const gain = Math.min(0.99, Math.abs(feedbackPercent) / 100);
  return gain > 0.001 ? (roundSeconds * 60) / (-20 * Math.log10(gain)) : 0;
}

/** What takes constants away rings this long. */
export const DC_BLOCK_SECONDS = ringing(5, 1);
/** A crossover rings about as long as a resonance of this Q. */
export const CROSSOVER_Q = 3;
