/** How a signal that should be one steady sine differs from it, by quadrature demodulation; for tests. */
export interface Steadiness {
  /** Mean frequency against that which it should have. */
  cents: number;
  /** Loudest against softest, dB. */
  swingDb: number;
}

/** @param from seconds that are left out at the beginning */
export function steadinessOf(signal: ArrayLike<number>, sampleRateHz: number, hz: number, from: number): Steadiness {
  // Sums over two periods: what lies at the double of the frequency cancels.
  const span = Math.max(48, Math.round((2 * sampleRateHz) / hz));
  const hop = Math.round(span / 4);
  const re = new Float64Array(signal.length + 1);
  const im = new Float64Array(signal.length + 1);
  for (let i = 0; i < signal.length; i++) {
    const angle = (2 * Math.PI * hz * i) / sampleRateHz;
    re[i + 1] = re[i] + signal[i] * Math.cos(angle);
    im[i + 1] = im[i] - signal[i] * Math.sin(angle);
  }
  let [softest, loudest, turned, samples, last] = [Infinity, 0, 0, 0, NaN];
  for (let i = Math.round(from * sampleRateHz); i + span < signal.length; i += hop) {
    const [x, y] = [re[i + span] - re[i], im[i + span] - im[i]];
    const level = Math.hypot(x, y);
    softest = Math.min(softest, level);
    loudest = Math.max(loudest, level);
    const phase = Math.atan2(y, x);
    if (!Number.isNaN(last)) {
      const turn = (phase - last) / (2 * Math.PI);
      turned += turn - Math.round(turn);
      samples += hop;
    }
    last = phase;
  }
  const offHz = turned / (samples / sampleRateHz);
  return { cents: 1200 * Math.log2((hz + offHz) / hz), swingDb: 20 * Math.log10(loudest / softest) };
}
