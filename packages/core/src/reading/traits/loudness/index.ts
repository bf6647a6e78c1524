import { decibelsFromGain } from '../../../dsp/decibels';
import { integratedLoudness } from '../../../dsp/loudness';
import { rounded, toSeries } from '../../documentParts';
import type { TraitDescriptor } from '../descriptor';
import { several } from '../doubts';
import { createNoise, fill, gainAt } from '../../evidenceSounds';

/** Every nth value, so that a contour of a long cut stays a document of sensible size. */
function thinned(values: Float64Array, hopSeconds: number): { values: Float64Array; hopSeconds: number } {
  const step = Math.max(1, Math.ceil(values.length / 2000));
  return { values: values.filter((_, i) => i % step === 0), hopSeconds: hopSeconds * step };
}

/** What is looked at of the start, and what it is compared with. */
const START_SECONDS = 0.001;
const EARLY_SECONDS = 0.05;
const SOUNDING_SHARE = 0.4;

/**
 * Whether the first millisecond is as loud, or moves as quickly, as what follows: nothing rises from silence
 * in that time.
 */
function startsSounding(samples: Float32Array, sampleRateHz: number): boolean {
  const largest = (seconds: number, of: (i: number) => number) => {
    let most = 0;
    for (let i = 1; i < Math.min(samples.length, seconds * sampleRateHz); i++) most = Math.max(most, Math.abs(of(i)));
    return most;
  };
  const measures = [(i: number) => samples[i], (i: number) => samples[i] - samples[i - 1]];
  return measures.some((of) => {
    const early = largest(EARLY_SECONDS, of);
    return early > 1e-4 && largest(START_SECONDS, of) > SOUNDING_SHARE * early;
  });
}

export const loudness = {
  measure({ audio: { channels, sampleRateHz }, level, fitted }) {
    let peak = 0;
    let power = 0;
    for (const channel of channels) {
      for (const x of channel) {
        peak = Math.max(peak, Math.abs(x));
        power += (x * x) / (channel.length * channels.length);
      }
    }
    const lufs = integratedLoudness(channels, sampleRateHz);
    const { values, hopSeconds } = thinned(level.rms, level.hopSeconds);
    const confidence = Math.max(0, Math.min(1, 1.1 - fitted.errorDb / 8));
    return {
      lufs: Number.isFinite(lufs) ? rounded(lufs) : null,
      peakDb: rounded(decibelsFromGain(peak)),
      crestDb: power > 0 ? rounded(decibelsFromGain(peak) - 10 * Math.log10(power)) : null,
      onsetSeconds: rounded(fitted.onsetSeconds),
      startsSounding: startsSounding(channels[0], sampleRateHz),
      attackSeconds: rounded(fitted.attackSeconds),
      holdSeconds: rounded(fitted.holdSeconds),
      decaySeconds: rounded(fitted.decaySeconds),
      sustainDb: rounded(fitted.sustainDb),
      noteOffSeconds: fitted.noteOffSeconds === null ? null : rounded(fitted.noteOffSeconds),
      releaseSeconds: fitted.releaseSeconds === null ? null : rounded(fitted.releaseSeconds),
      fullLevelDb: rounded(decibelsFromGain(fitted.fullRms)),
      fitErrorDb: rounded(fitted.errorDb),
      contour: toSeries(hopSeconds, values, (rms) => Math.max(-120, decibelsFromGain(rms))),
      confidence,
    };
  },

  doubt: (reading) => {
    const { fitErrorDb } = reading.traits.loudness;
    if (several(reading)) return 'several notes have a contour each, and this is the one around all of them';
    return fitErrorDb === null
      ? undefined
      : `the level strays from the envelope by ${fitErrorDb.toFixed(1)} dB on the average: something else moves it`;
  },

  evidence: {
    loudness(audio, { traits: { loudness } }) {
      const noise = createNoise();
      return [fill(audio, (seconds) => gainAt(loudness.contour, seconds) * noise())];
    },
  },
} satisfies TraitDescriptor<'loudness'>;
