/** Tones behind filters by formula, for tests: nothing here uses the engine or the reader's own responses. */
import { voices } from './effects';

export interface FilterCase {
  name: string;
  f0Hz: number;
  /** Amplitude of partial n of the source. */
  source: (n: number) => number;
  slope: 12 | 24;
  /** Gain at the cutoff over that of a Butterworth filter, dB. */
  resonanceDb: number;
  fromHz: number;
  toHz: number;
  /** Time constant of an exponential movement from one to the other, on a log scale. */
  tauSeconds: number;
  highpassHz?: number;
}

const pulse = (width: number) => (n: number) => (2 / Math.PI / n) * Math.abs(Math.sin(Math.PI * n * width));
const saw = (n: number) => 1 / n;
const square = (n: number) => (n % 2 ? 1 / n : 0);
/** A saw with a hump around the sixth partial. */
const humped = (n: number) => (1 / n) * 10 ** ((9 * Math.exp(-(((n - 6) / 2) ** 2))) / 20);

const row = (
  name: string,
  f0Hz: number,
  source: FilterCase['source'],
  slope: 12 | 24,
  resonanceDb: number,
  fromHz: number,
  toHz: number,
  tauSeconds: number,
  highpassHz?: number,
): FilterCase => ({ name, f0Hz, source, slope, resonanceDb, fromHz, toHz, tauSeconds, highpassHz });

/** Filters as they come up in basses, plucks, leads and acid lines. */
export const filterCases: FilterCase[] = [
  row('saw, 24 dB, closing', 55, saw, 24, 0, 3100, 240, 0.15),
  row('saw, 12 dB, closing', 110, saw, 12, 0, 4000, 400, 0.2),
  row('saw, 24 dB, opening', 82.4, saw, 24, 0, 300, 2500, 0.4),
  row('square, 24 dB', 65.4, square, 24, 0, 2400, 300, 0.2),
  row('square, 12 dB', 220, square, 12, 0, 6000, 900, 0.3),
  row('pulse, 24 dB', 98, pulse(0.25), 24, 0, 3500, 350, 0.25),
  row('humped, 24 dB', 110, humped, 24, 0, 4500, 380, 0.3),
  row('humped, 12 dB', 146.8, humped, 12, 0, 5200, 600, 0.25),
  row('saw, 24 dB, 6 dB resonance', 55, saw, 24, 6, 2000, 200, 0.2),
  row('saw, 24 dB, 12 dB resonance', 110, saw, 24, 12, 3000, 330, 0.25),
  row('saw, 12 dB, 9 dB resonance', 82.4, saw, 12, 9, 2600, 300, 0.3),
  row('saw, 12 dB, 18 dB resonance', 65.4, saw, 12, 18, 1800, 250, 0.2),
  row('square, 24 dB, 15 dB resonance', 110, square, 24, 15, 3000, 400, 0.3),
  row('pulse, 24 dB, 10 dB resonance', 73.4, pulse(0.15), 24, 10, 2500, 260, 0.2),
  row('saw, still, 24 dB', 110, saw, 24, 0, 1200, 1200, 1),
  row('saw, still, 12 dB', 165, saw, 12, 0, 1500, 1500, 1),
  row('saw, still, 12 dB resonance', 98, saw, 24, 12, 900, 900, 1),
  row('saw, high-pass 300 Hz', 110, saw, 24, 0, 4000, 900, 0.3, 300),
  row('saw, high-pass 500 Hz, still', 130.8, saw, 12, 0, 6000, 6000, 1, 500),
  row('saw, high note, closing', 440, saw, 24, 0, 9000, 1300, 0.3),
];

const butterworth = (slope: 12 | 24) => (slope === 12 ? [Math.SQRT1_2] : [0.541196, 1.306563]);

/** Gain of a low-pass from its transfer function: s²+s/Q+1 of each section at s = j·ratio. */
function lowpassGain(slope: 12 | 24, resonanceDb: number, ratio: number): number {
  const qs = butterworth(slope);
  return qs.reduce((gain, q, i) => {
    const quality = i === qs.length - 1 ? q * 10 ** (resonanceDb / 20) : q;
    return gain / Math.hypot(1 - ratio * ratio, ratio / quality);
  }, 1);
}

/** Second-order Butterworth high-pass. */
const highpassGain = (ratio: number) => (ratio * ratio) / Math.sqrt(1 + ratio ** 4);

export const cutoffAt =
  ({ fromHz, toHz, tauSeconds }: FilterCase) =>
  (seconds: number): number =>
    toHz * (fromHz / toHz) ** Math.exp(-seconds / tauSeconds);

/** Two seconds of a case. */
export function filterSound(row: FilterCase, seconds = 2): Float64Array {
  const cutoff = cutoffAt(row);
  return voices({
    f0Hz: row.f0Hz,
    seconds,
    mostPartials: 120,
    amplitude: (n, t) => {
      const hz = n * row.f0Hz;
      const high = row.highpassHz ? highpassGain(hz / row.highpassHz) : 1;
      return row.source(n) * high * lowpassGain(row.slope, row.resonanceDb, hz / cutoff(t));
    },
  });
}
