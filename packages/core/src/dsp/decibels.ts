/** Level of an amplitude ratio in dB. Zero and below give `floorDb`. */
export function decibelsFromGain(gain: number, floorDb = -200): number {
  return gain > 0 ? Math.max(floorDb, 20 * Math.log10(gain)) : floorDb;
}

/** Amplitude ratio of a level in dB. */
export function gainFromDecibels(levelDb: number): number {
  return 10 ** (levelDb / 20);
}

/** Level of a power ratio in dB. Zero and below give `floorDb`. */
export function decibelsFromPower(power: number, floorDb = -200): number {
  return power > 0 ? Math.max(floorDb, 10 * Math.log10(power)) : floorDb;
}
