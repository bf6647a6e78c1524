import { butterworthQs } from '../../filters/butterworth';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { BLOCK_SAMPLES } from '../../sources/source';

/** A Butterworth filter of the fourth order twice. */
const QS = [...butterworthQs(4), ...butterworthQs(4)];

/**
 * Tells the lows of a signal from its highs, 48 dB per octave each, so that both together are the signal
 * behind an all-pass (Linkwitz & Riley 1976). What is taken from a high-pass by subtraction, x − high, would
 * not do: its phase makes it louder than the signal itself for octaves above the cut.
 */
export interface Crossover {
  clear(): void;
  /** Sets the frequency at which they part, which may move from block to block. */
  tune(hz: number): void;
  /** Leaves the lows of a block in `lows` and puts its highs into `highs`. */
  split(lows: Float64Array, highs: Float64Array): void;
  /** Leaves only the highs. */
  keepHighs(signal: Float64Array): void;
  /** Turns the phase of a block as a split and a sum would. */
  align(signal: Float64Array): void;
}

export function createCrossover(sampleRateHz: number): Crossover {
  const [above, below] = [createSections(QS.length), createSections(QS.length)];
  const [highpass, lowpass] = [0, 1].map(() => new Float64Array(QS.length * SECTION));
  const still = new Float64Array(highpass.length);
  const spare = new Float64Array(BLOCK_SAMPLES);

  function pass(states: Float64Array, signal: Float64Array, coefficients: Float64Array): void {
    for (let s = 0; s < QS.length; s++) runSection(states, s, signal, 0, BLOCK_SAMPLES, coefficients, still, false);
  }

  const crossover: Crossover = {
    clear() {
      above.fill(0);
      below.fill(0);
    },
    tune(hz) {
      const g = integratorGain(hz, sampleRateHz);
      for (let s = 0; s < QS.length; s++) {
        section.highpass(highpass, s, g, 1 / QS[s]);
        section.lowpass(lowpass, s, g, 1 / QS[s]);
      }
    },
    split(lows, highs) {
      highs.set(lows);
      pass(above, highs, highpass);
      pass(below, lows, lowpass);
    },
    keepHighs: (signal) => pass(above, signal, highpass),
    align(signal) {
      crossover.split(signal, spare);
      for (let i = 0; i < BLOCK_SAMPLES; i++) signal[i] += spare[i];
    },
  };
  return crossover;
}
