import { fftOfSize } from '../dsp/fft';
import { gainFromDecibels } from '../dsp/decibels';
import { FRAME_SAMPLES } from '../patch/schema';
import { frameAmplitudes } from '../reading/partials/partialFrames';
import type { Measurement } from '../reading/read';

const FRAMES = 24;
/** Frames lie closer together at the start of a note, where most happens. */
const CROWDING = 1.7;
const MAX_BOOST_DB = 30;
/** A tail this far under the loudest frame is not worth a frame. */
const AUDIBLE_DB = -50;

/**
 * A wavetable along a note: partials averaged around each of 24 moments, freed from the low-pass that the
 * patch will put on again, each frame at the same loudness behind that filter. All frames share one set of
 * phases, those of the strongest frame turned so that partial 1 is a sine: frames that differ in level only
 * can be blended without cancelling.
 *
 * @param attenuationDb what the patch's filter takes off a frequency in Hz at a time since the onset; 0
 *   without a filter
 * @param leastSpanSeconds each frame is the mean of at least so long: of detuned voices, over a beat, which
 *   the table must not repeat
 * @returns samples of `24 × 2048`, and the table position 0..1 over the time since the onset
 */
export function extractWavetable(
  { partials, fitted }: Measurement,
  attenuationDb: (hz: number, seconds: number) => number = () => 0,
  leastSpanSeconds = 0,
): { samples: Float32Array; positions: { seconds: number; value: number }[] } {
  if (!partials) throw new Error('A wavetable needs the partials of a pitched note.');
  const { seconds, count } = partials;
  const powers = Float64Array.from(seconds, (_, t) => frameAmplitudes(partials, t).reduce((sum, a) => sum + a * a, 0));
  const loudest = powers.indexOf(powers.reduce((a, b) => Math.max(a, b), 0));
  const audible = powers[loudest] * 10 ** (AUDIBLE_DB / 10);
  const start = fitted.onsetSeconds;
  const heardUntil = seconds[powers.findLastIndex((power) => power > audible)];
  const length = Math.max(0.02, heardUntil - start);
  const times = Array.from({ length: FRAMES }, (_, i) => length * (i / (FRAMES - 1)) ** CROWDING);

  const phases = alignedPhases(partials.phases.subarray(loudest * count, (loudest + 1) * count));
  const usable = Math.min(count, FRAME_SAMPLES / 2 - 1);
  const samples = new Float32Array(FRAMES * FRAME_SAMPLES);
  const real = new Float64Array(FRAME_SAMPLES);
  const imaginary = new Float64Array(FRAME_SAMPLES);
  let peak = 0;
  times.forEach((time, i) => {
    const amplitudes = averageAround(
      start + time,
      Math.max(leastSpanSeconds, (times[i + 1] ?? time) - (times[i - 1] ?? time)),
    );
    const rms = Math.sqrt(amplitudes.reduce((sum, a) => sum + a * a, 0) / 2) || 1;
    real.fill(0);
    imaginary.fill(0);
    for (let n = 1; n <= usable; n++) {
      const liftDb = Math.min(MAX_BOOST_DB, attenuationDb(n * partials.f0Hz, time));
      const amplitude = (amplitudes[n - 1] / rms) * gainFromDecibels(liftDb);
      real[n] = amplitude * Math.cos(phases[n - 1]);
      imaginary[n] = amplitude * Math.sin(phases[n - 1]);
    }
    fftOfSize(FRAME_SAMPLES).inverse(real, imaginary);
    for (let k = 0; k < FRAME_SAMPLES; k++) {
      samples[i * FRAME_SAMPLES + k] = real[k];
      peak = Math.max(peak, Math.abs(real[k]));
    }
  });
  for (let i = 0; i < samples.length; i++) samples[i] /= peak || 1;
  return { samples, positions: times.map((time, i) => ({ seconds: time, value: i / (FRAMES - 1) })) };

  /** Root mean square of the partials within half the distance to the neighbouring moments. */
  function averageAround(middle: number, width: number): Float64Array {
    const result = new Float64Array(count);
    let used = 0;
    seconds.forEach((at, t) => {
      if (Math.abs(at - middle) > width / 4 || powers[t] < audible) return;
      frameAmplitudes(partials!, t).forEach((a, i) => (result[i] += a * a));
      used++;
    });
    if (used === 0) {
      const nearest = nearestAudible(middle);
      return Float64Array.from(frameAmplitudes(partials!, nearest));
    }
    return result.map((power) => Math.sqrt(power / used));
  }

  function nearestAudible(middle: number): number {
    let best = loudest;
    let distance = Infinity;
    seconds.forEach((at, t) => {
      if (powers[t] >= audible && Math.abs(at - middle) < distance) {
        distance = Math.abs(at - middle);
        best = t;
      }
    });
    return best;
  }
}

/**
 * Where in the first frame a note can begin with the smallest step: least level within a hundredth of a
 * period.
 */
export function quietestPhase(samples: Float32Array): number {
  const reach = Math.round(FRAME_SAMPLES / 100);
  let best = 0;
  let least = Infinity;
  for (let k = 0; k < FRAME_SAMPLES; k++) {
    let sum = 0;
    for (let i = -reach; i <= reach; i++) sum += samples[(k + i + FRAME_SAMPLES) % FRAME_SAMPLES] ** 2;
    if (sum < least) {
      least = sum;
      best = k;
    }
  }
  return best / FRAME_SAMPLES;
}

/** Phases relative to partial 1, which becomes a sine. */
function alignedPhases(phases: Float64Array): Float64Array {
  const turn = phases[0] + Math.PI / 2;
  return phases.map((phase, i) => phase - (i + 1) * turn);
}
