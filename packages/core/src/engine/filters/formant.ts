import { gainFromDecibels } from '../../dsp/decibels';
import { ratioFromSemitones } from '../../dsp/pitch';
import { defineFilter, integratorGain } from './filter';
import { forgetSmall } from './stateVariable';

/**
 * First three formants in Hz and their levels in dB, averages of men's voices: Peterson & Barney 1952, table
 * II.
 */
const VOWELS = [
  { name: 'a', hz: [730, 1090, 2440], levelsDb: [-1, -5, -28] },
  { name: 'e', hz: [530, 1840, 2480], levelsDb: [-2, -17, -24] },
  { name: 'i', hz: [270, 2290, 3010], levelsDb: [-4, -24, -28] },
  { name: 'o', hz: [570, 840, 2410], levelsDb: [0, -7, -34] },
  { name: 'u', hz: [300, 870, 2240], levelsDb: [-3, -19, -43] },
] as const;

const FORMANTS = 3;
/** g, k and level of each formant. */
const PER_FORMANT = 3;
/**
 * The published levels are those of a voice, whose source already falls by 12 dB an octave: half of their
 * fall is left.
 */
const LEVEL_SHARE = 0.5;

/**
 * Frequency in Hz and level in dB of each formant in turn, at a place 0..1 along a, e, i, o, u, into `out`:
 * frequencies between neighbours on a log scale.
 */
export function writeFormants(place: number, out: Float64Array): void {
  const x = Math.min(1, Math.max(0, place)) * (VOWELS.length - 1);
  const i = Math.min(VOWELS.length - 2, Math.floor(x));
  const share = x - i;
  const from = VOWELS[i];
  const to = VOWELS[i + 1];
  for (let f = 0; f < FORMANTS; f++) {
    out[2 * f] = from.hz[f] * (to.hz[f] / from.hz[f]) ** share;
    out[2 * f + 1] = from.levelsDb[f] + share * (to.levelsDb[f] - from.levelsDb[f]);
  }
}

const formants = new Float64Array(2 * FORMANTS);

/** Three band-passes side by side on the formants of a vowel (parallel formant synthesis, Holmes 1973). */
export const formant = defineFilter<Float64Array>({
  createState: () => new Float64Array(2 * FORMANTS),
  clear: (state) => void state.fill(0),
  tune({ slots }, values, { sampleRateHz }, out) {
    writeFormants(values[slots.vowel] / 100, formants);
    const shift = ratioFromSemitones(values[slots.shiftSemitones]);
    const k = 1 / (Math.SQRT1_2 * gainFromDecibels(values[slots.resonanceDb]));
    for (let f = 0; f < FORMANTS; f++) {
      out[PER_FORMANT * f] = integratorGain(shift * formants[2 * f], sampleRateHz);
      out[PER_FORMANT * f + 1] = k;
      // Narrow bands let less of a tone through: what they lose is given back as power over the band.
      out[PER_FORMANT * f + 2] = gainFromDecibels(LEVEL_SHARE * formants[2 * f + 1]) * Math.sqrt(Math.max(1, 1 / k));
    }
  },
  run(s, _program, signal, from, to, at, step) {
    for (let i = from; i < to; i++) {
      const n = i - from;
      const x = signal[i];
      let y = 0;
      for (let f = 0, c = 0; f < FORMANTS; f++, c += PER_FORMANT) {
        const g = at[c] + n * step[c];
        const k = at[c + 1] + n * step[c + 1];
        const v1 = (s[2 * f] + g * (x - s[2 * f + 1])) / (1 + g * (g + k));
        const v2 = s[2 * f + 1] + g * v1;
        s[2 * f] = 2 * v1 - s[2 * f];
        s[2 * f + 1] = 2 * v2 - s[2 * f + 1];
        y += (at[c + 2] + n * step[c + 2]) * k * v1;
      }
      signal[i] = y;
    }
    for (let n = 0; n < s.length; n++) s[n] = forgetSmall(s[n]);
  },
});
