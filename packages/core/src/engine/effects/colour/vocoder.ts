import { gainFromDecibels } from '../../../dsp/decibels';
import { ratioFromSemitones } from '../../../dsp/pitch';
import { integratorGain } from '../../filters/filter';
import { SECTION, createSections, runSection, section } from '../../filters/stateVariable';
import { MakeUp, powerOf } from '../../voice/makeUp';
import type { PreparedSample } from '../../program/preparedSample';
import { writeRandom } from '../../random';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from '../chain/effect';

type Vocoder = EffectOf<'vocoder'>;

const MOST_BANDS = 64;
const LOWEST_HZ = 90;
const HIGHEST_HZ = 11000;
/** Two band-passes a band, whose edges meet about 4 dB under their middle. */
const SECTIONS = 2;
const WIDTH = 0.95;
/** Levels of the bands are followed at this share of the rate, by their mean over so many samples. */
const STRIDE = 16;
const NOISE_SEED = 19;
/** How fast noise as a carrier follows what it stands for. */
const RISE_SECONDS = 0.001;
const FALL_SECONDS = 0.03;
const FORGOTTEN = 1e-9;
/** What the bands take away is told by the mean over so long: some words. */
const MAKE_UP_SECONDS = 2;
/** So that a modulator with the carrier's own spectrum comes out about as loud as it is. */
const LIFT_DB = 6;

/** Middle of a band, spread by ratio. */
export const vocoderBandHz = (band: number, bands: number): number =>
  LOWEST_HZ * (HIGHEST_HZ / LOWEST_HZ) ** ((band + 0.5) / bands);

/** Damping of each of a band's two sections: neighbours meet where both are equally weakened. */
const dampingOf = (bands: number): number => {
  const ratio = (HIGHEST_HZ / LOWEST_HZ) ** (1 / bands);
  return WIDTH * (Math.sqrt(ratio) - 1 / Math.sqrt(ratio)) * Math.SQRT2;
};

/** Gain of a band at a frequency, without bending at high ones. */
export function vocoderBandGain(hz: number, band: number, bands: number): number {
  const middle = vocoderBandHz(band, bands);
  const k = dampingOf(bands);
  const detuning = (hz / middle - middle / hz) / k;
  return 1 / (1 + detuning * detuning) ** (SECTIONS / 2);
}

/**
 * The levels of bands of one sound put upon those of another (Dudley 1939): what goes through, or noise,
 * takes the spectrum of a sample, of another layer, or of itself.
 */
export const vocoder: EffectModel<Vocoder> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds: (effect) => 0.3 + 7 * effect.releaseSeconds,
  create(sampleRateHz) {
    const analysis = Array.from({ length: MOST_BANDS }, () => createSections(SECTIONS));
    const synthesis = [0, 1].map(() => Array.from({ length: MOST_BANDS }, () => createSections(SECTIONS)));
    const listening = Array.from({ length: MOST_BANDS }, () => new Float64Array(SECTIONS * SECTION));
    const speaking = Array.from({ length: MOST_BANDS }, () => new Float64Array(SECTIONS * SECTION));
    const still = new Float64Array(SECTIONS * SECTION);
    const levels = new Float64Array(MOST_BANDS);
    const gains = new Float64Array((BLOCK_SAMPLES / STRIDE + 1) * MOST_BANDS);
    const modulator = new Float64Array(BLOCK_SAMPLES);
    const band = new Float64Array(BLOCK_SAMPLES);
    const heard = new Float64Array(BLOCK_SAMPLES);
    const carrier = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    const noise = new Ramp();
    const makeUp = new MakeUp(MAKE_UP_SECONDS, true, true);
    const random = new Float64Array(1);
    const state = { tuned: '', samplePlace: 0, noiseAt: 0, level: 0 };
    const rise = 1 - Math.exp(-1 / (sampleRateHz * RISE_SECONDS));
    const fall = 1 - Math.exp(-1 / (sampleRateHz * FALL_SECONDS));

    function tune(bands: number, formants: number): void {
      const key = `${bands} ${formants}`;
      if (state.tuned === key) return;
      state.tuned = key;
      const k = dampingOf(bands);
      for (let b = 0; b < bands; b++) {
        const hz = vocoderBandHz(b, bands);
        for (let s = 0; s < SECTIONS; s++) {
          section.bandpass(listening[b], s, integratorGain(hz, sampleRateHz), k);
          section.bandpass(speaking[b], s, integratorGain(Math.min(18000, hz * formants), sampleRateHz), k);
        }
      }
    }

    function fillFromSample({ octaves, sampleRateHz: ownRateHz }: PreparedSample): void {
      const [channels] = octaves;
      const length = channels[0].length;
      const step = ownRateHz / sampleRateHz;
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        const whole = Math.floor(state.samplePlace);
        const next = whole + 1 < length ? whole + 1 : 0;
        const share = state.samplePlace - whole;
        let sum = 0;
        // Straight lines are good enough to measure levels of bands by.
        for (let c = 0; c < channels.length; c++) sum += (1 - share) * channels[c][whole] + share * channels[c][next];
        modulator[i] = sum / channels.length;
        state.samplePlace = (state.samplePlace + step) % length;
      }
    }

    function fillModulator(
      { spec, sample }: EffectProgram<Vocoder>,
      left: Float64Array,
      right: Float64Array,
      key: readonly [Float64Array, Float64Array] | undefined,
    ): void {
      if (sample) return fillFromSample(sample);
      if (spec.keyLayerId !== null && !key) return void modulator.fill(0);
      const [keyL, keyR] = key ?? [left, right];
      for (let i = 0; i < BLOCK_SAMPLES; i++) modulator[i] = (keyL[i] + keyR[i]) / 2;
    }

    /** Mixes noise into the carrier, as loud as what goes through, so that a note's end is the end. */
    function fillCarrier(left: Float64Array, right: Float64Array): void {
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        const share = noise.value + (i + 1) * noise.step;
        writeRandom(random, 0, NOISE_SEED, state.noiseAt, 0);
        const x = Math.max(Math.abs(left[i]), Math.abs(right[i]));
        state.level += (x > state.level ? rise : fall) * (x - state.level);
        const loud = 2 * share * state.level;
        carrier[0][i] = (1 - share) * left[i] + loud * (random[0] - 0.5);
        writeRandom(random, 0, NOISE_SEED, state.noiseAt++, 1);
        carrier[1][i] = (1 - share) * right[i] + loud * (random[0] - 0.5);
      }
      if (state.level < FORGOTTEN) state.level = 0;
      noise.advance(BLOCK_SAMPLES);
    }

    /** Follows the level of a band through the block: one gain every STRIDE samples. */
    function follow(b: number, attack: number, release: number): void {
      let level = levels[b];
      gains[b] = level;
      for (let at = 0, n = 1; at < BLOCK_SAMPLES; at += STRIDE, n++) {
        let sum = 0;
        for (let i = at; i < at + STRIDE; i++) sum += modulator[i] * modulator[i];
        const now = Math.sqrt((2 * sum) / STRIDE);
        level += (now > level ? attack : release) * (now - level);
        gains[n * MOST_BANDS + b] = level;
      }
      levels[b] = level > 1e-9 ? level : 0;
    }

    function speak(b: number, side: number, gain: number, out: Float64Array): void {
      band.set(carrier[side]);
      for (let s = 0; s < SECTIONS; s++)
        runSection(synthesis[side][b], s, band, 0, BLOCK_SAMPLES, speaking[b], still, false);
      for (let at = 0, n = 0; at < BLOCK_SAMPLES; at += STRIDE, n++) {
        let value = gain * gains[n * MOST_BANDS + b];
        const step = (gain * gains[(n + 1) * MOST_BANDS + b] - value) / STRIDE;
        for (let i = at; i < at + STRIDE; i++) {
          value += step;
          out[i] += value * band[i];
        }
      }
    }

    return {
      latency: 0,
      clear() {
        for (const states of [...analysis, ...synthesis.flat()]) states.fill(0);
        levels.fill(0);
        makeUp.clear();
        noise.clear();
        Object.assign(state, { tuned: '', samplePlace: 0, noiseAt: 0, level: 0 });
      },
      run(program, values, left, right, around) {
        const { spec, slots } = program;
        const bands = Math.round(values[slots.bands]);
        tune(bands, ratioFromSemitones(values[slots.formantSemitones]));
        noise.to(values[slots.noise] / 100, BLOCK_SAMPLES);
        fillModulator(program, left, right, spec.keyLayerId === null ? undefined : around.layer(spec.keyLayerId));
        fillCarrier(left, right);
        const powerIn = powerOf(left, 0, BLOCK_SAMPLES) + powerOf(right, 0, BLOCK_SAMPLES);
        left.fill(0);
        right.fill(0);
        const rate = sampleRateHz / STRIDE;
        const attack = 1 - Math.exp(-1 / (rate * values[slots.attackSeconds]));
        const release = 1 - Math.exp(-1 / (rate * values[slots.releaseSeconds]));
        const octavesAcross = Math.log2(HIGHEST_HZ / LOWEST_HZ);
        // A band of a full carrier holds the less of it the more bands there are.
        const lift = gainFromDecibels(LIFT_DB) * Math.sqrt(bands);
        heard.set(modulator);
        for (let b = 0; b < bands; b++) {
          modulator.set(heard);
          for (let s = 0; s < SECTIONS; s++)
            runSection(analysis[b], s, modulator, 0, BLOCK_SAMPLES, listening[b], still, false);
          follow(b, attack, release);
          const tilt = values[slots.tiltDbPerOctave] * octavesAcross * ((b + 0.5) / bands - 0.5);
          // Where two bands meet their phases are opposite: every second one is turned.
          const gain = (b % 2 === 0 ? lift : -lift) * gainFromDecibels(tilt);
          speak(b, 0, gain, left);
          speak(b, 1, gain, right);
        }
        if (!spec.makeUp) return;
        const powerOut = powerOf(left, 0, BLOCK_SAMPLES) + powerOf(right, 0, BLOCK_SAMPLES);
        makeUp.follow(powerIn, powerOut, BLOCK_SAMPLES / sampleRateHz);
        makeUp.apply(left, 0, BLOCK_SAMPLES);
        makeUp.apply(right, 0, BLOCK_SAMPLES);
      },
      hiddenSamples: () => Math.ceil(0.05 * sampleRateHz),
    };
  },
};
