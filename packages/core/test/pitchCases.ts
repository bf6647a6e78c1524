import { hzFromMidi } from '../src/dsp/pitch';
import { type HarmonicTone, saw, sine, square, weakFundamental } from './signals';

/**
 * 48 tones from E1 to C7: four spectra at twelve pitches, each a few cents off the keyboard, with noise at
 * −60 dB.
 */
export const pitchCases: { name: string; tone: HarmonicTone }[] = [
  28, 33, 38, 43, 49, 55, 60, 67, 74, 82, 89, 96,
].flatMap((midi, i) =>
  Object.entries({ saw, square, sine, weakFundamental }).map(([name, amplitude], j) => ({
    name: `${name} at MIDI note ${midi}`,
    tone: {
      f0Hz: hzFromMidi(midi + ((7 * i + 3 * j) % 11) / 25 - 0.2),
      amplitude,
      noiseDb: -60,
      seconds: 0.8,
      phase: (n: number) => n * n,
    },
  })),
);
