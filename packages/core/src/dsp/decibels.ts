/** Level of an amplitude ratio in dB. Zero and below give `floorDb`. */
export function decibelsFromGain(gain: number, floorDb = -200): number {
  return gain > 0 ? Math.max(floorDb, 20 * Math.log10(gain)) : floorDb;
}

/**
 * Amplitude ratio of a level in dB. By the exponential function, which takes a third of the time of a power
 * of ten.
 */
export function gainFromDecibels(levelDb: number): number {
  return Math.exp((Math.LN10 / 20) * levelDb);
}

/** Level of a power ratio in dB. Zero and below give `floorDb`. */
export function decibelsFromPower(power: number, floorDb = -200): number {
  return power > 0 ? Math.max(floorDb, (10 / Math.LN10) * Math.log(power)) : floorDb;
}
