/** Hits are told by what is above this. */
const FROM_HZ = 5000;
const STEP_SECONDS = 0.02;
/** An onset is where the rise begins; the hit comes within three steps. */
const STEPS = [0, 0.02, 0.04];
const BEFORE_SECONDS = [0.035, 0.008] as const;
const LATER_SECONDS = [0.14, 0.18] as const;
/** How much louder it is at the hit than before and after, as powers: 4 dB. */
const FACTOR = 2.5;

/** Onsets at which a short noise sounds: the highs come and are gone again within a seventh of a second. */
export function findHits(mono: ArrayLike<number>, sampleRateHz: number, onsets: readonly number[]): number[] {
  // Two one-pole high-passes; what is left of a tone's lows does not matter for the comparison.
  const pole = Math.exp((-2 * Math.PI * Math.min(FROM_HZ, 0.2 * sampleRateHz)) / sampleRateHz);

  function power(fromSeconds: number, toSeconds: number): number {
    const from = Math.max(0, Math.round(fromSeconds * sampleRateHz));
    const to = Math.min(mono.length, Math.round(toSeconds * sampleRateHz));
    const state = [0, 0];
    let sum = 0;
    for (let i = Math.max(0, from - 32); i < to; i++) {
      let x = mono[i];
      for (let p = 0; p < 2; p++) {
        state[p] += (1 - pole) * (x - state[p]);
        x -= state[p];
      }
      if (i >= from) sum += x * x;
    }
    return sum / Math.max(1, to - from);
  }

  return onsets.filter((at) => {
    const now = Math.max(...STEPS.map((step) => power(at + step, at + step + STEP_SECONDS)));
    const before = power(at - BEFORE_SECONDS[0], at - BEFORE_SECONDS[1]);
    const later = power(at + LATER_SECONDS[0], at + LATER_SECONDS[1]);
    return now > FACTOR * before && now > FACTOR * later;
  });
}
