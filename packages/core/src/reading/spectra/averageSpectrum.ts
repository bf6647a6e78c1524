import { decibelsFromPower } from '../../dsp/decibels';
import { createFrameSpectrum } from '../../dsp/frameSpectrum';
import { type Audio, toMono } from '../audio';

/** Mean level per band of a twelfth of an octave. */
export interface AverageSpectrum {
  centresHz: number[];
  levelsDb: number[];
}

const BANDS_PER_OCTAVE = 12;
const LOWEST_HZ = 27.5;
const SIZE = 16384;
const FLOOR_DB = -120;

/**
 * Long-term power spectrum of a sound, averaged over overlapping windows and summed into bands; full-scale
 * sine = 0 dB.
 */
export function averageSpectrum(audio: Audio): AverageSpectrum {
  const mono = toMono(audio);
  const { sampleRateHz } = audio;
  const power = averagePower(mono);
  const centresHz: number[] = [];
  const levelsDb: number[] = [];
  for (let hz = LOWEST_HZ; hz < Math.min(20000, 0.48 * sampleRateHz); hz *= 2 ** (1 / BANDS_PER_OCTAVE)) {
    const from = (hz * 2 ** (-0.5 / BANDS_PER_OCTAVE) * SIZE) / sampleRateHz;
    const to = (hz * 2 ** (0.5 / BANDS_PER_OCTAVE) * SIZE) / sampleRateHz;
    centresHz.push(hz);
    levelsDb.push(decibelsFromPower(sumBetween(power, from, to), FLOOR_DB));
  }
  return { centresHz, levelsDb };
}

function averagePower(mono: Float64Array): Float64Array {
  const spectrum = createFrameSpectrum(SIZE);
  const { real, imaginary } = spectrum;
  const power = new Float64Array(SIZE / 2);
  const hop = SIZE / 4;
  const frames = Math.max(1, Math.ceil((mono.length - SIZE) / hop) + 1);
  // A full-scale sine has power 1/2 and appears with (SIZE/4)² in three bins that the window spreads it over.
  const scale = 1 / ((SIZE / 4) ** 2 * 1.5 * frames);
  for (let frame = 0; frame < frames; frame++) {
    spectrum.transform(mono, frame * hop);
    for (let k = 0; k < SIZE / 2; k++) power[k] += (real[k] * real[k] + imaginary[k] * imaginary[k]) * scale;
  }
  return power;
}

/** Sum of a power spectrum between two places, shares of bins counted. */
function sumBetween(power: Float64Array, from: number, to: number): number {
  let sum = 0;
  for (let k = Math.floor(from); k <= Math.floor(to) && k < power.length; k++) {
    const share = Math.min(to, k + 1) - Math.max(from, k);
    sum += Math.max(0, share) * power[k];
  }
  return sum;
}
