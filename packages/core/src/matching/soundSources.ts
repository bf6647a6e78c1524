import { hzFromMidi, midiFromHz } from '../dsp/pitch';
import { readSinc, resample } from '../dsp/sinc';
import { fftOfSize } from '../dsp/fft';
import { InputError } from '../patch/inputError';
import { sampleFromChannels } from '../patch/contents/samplePcm';
import { FRAME_SAMPLES, MAX_SAMPLE_SECONDS, type Sample, type Wavetable } from '../patch/schema';
import { wavetableFromSamples } from '../patch/contents/wavetableFrames';
import { type Audio, durationOf, toMono } from '../reading/audio';
import { findFundamental } from '../reading/pitch/fundamental';
import { trackPitch } from '../reading/pitch/pitchTrack';
import { measure } from '../reading/read';
import { extractWavetable } from './wavetableExtraction';

/** Rate that samples are kept at most at: nothing audible is lost, and patches stay small. */
const MAX_SAMPLE_RATE_HZ = 48000;
/** Samples longer than this are cut off, since they travel with the patch. */
const KEPT_SECONDS = 10;

/** A sound as a source of a patch, with its root note: the pitch that is heard, or C4 where there is none. */
export function sampleFromSound(audio: Audio, id: string, name: string): { sample: Sample; rootMidi: number } {
  const seconds = Math.min(durationOf(audio), KEPT_SECONDS, MAX_SAMPLE_SECONDS);
  const ratio = Math.min(1, MAX_SAMPLE_RATE_HZ / audio.sampleRateHz);
  const frames = Math.floor(seconds * audio.sampleRateHz);
  const channels = audio.channels.map((channel) => {
    const kept = channel.subarray(0, frames);
    return ratio === 1 ? kept : Float32Array.from(resample(kept, ratio));
  });
  const mono = toMono(audio).subarray(0, frames);
  const f0Hz = findFundamental(mono, audio.sampleRateHz, trackPitch(mono, audio.sampleRateHz))?.f0Hz;
  const rootMidi = f0Hz === undefined ? 60 : Math.round(100 * midiFromHz(f0Hz)) / 100;
  return { sample: sampleFromChannels(id, name, audio.sampleRateHz * ratio, channels), rootMidi };
}

const FRAMES = 32;

/**
 * A wavetable from any sound at a chosen root: single periods of that pitch cut out along it, made to end
 * where they begin, and turned so that their lowest partials agree. Where the sound has another pitch, or
 * none, it gives what it gives.
 *
 * Throws an InputError when the sound is shorter than four periods.
 */
export function wavetableFromSound(audio: Audio, rootMidi: number, id: string, name: string): Wavetable {
  const mono = toMono(audio);
  const period = audio.sampleRateHz / hzFromMidi(rootMidi);
  const count = Math.min(FRAMES, Math.floor(mono.length / period) - 2);
  if (count < 2) {
    throw new InputError(
      `“${name}” is ${durationOf(audio).toFixed(3)} s long; a wavetable at that root needs at least four periods, ${((4 * period) / audio.sampleRateHz).toFixed(3)} s.`,
    );
  }
  const samples = new Float32Array(count * FRAME_SAMPLES);
  const room = mono.length - 2 * period;
  for (let f = 0; f < count; f++) {
    samples.set(alignedFrame(periodAt(mono, (room * f) / (count - 1), period)), f * FRAME_SAMPLES);
  }
  const peak = samples.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
  if (peak > 0) for (let i = 0; i < samples.length; i++) samples[i] /= peak;
  return wavetableFromSamples(id, name, samples);
}

/** One period of 2048 samples from a place on; its end is faded into what comes a period earlier. */
function periodAt(mono: Float64Array, start: number, period: number): Float64Array {
  return Float64Array.from({ length: FRAME_SAMPLES }, (_, i) => {
    const along = i / FRAME_SAMPLES;
    const cutoff = Math.min(1, FRAME_SAMPLES / period);
    const here = readSinc(mono, start + (1 + along) * period, cutoff);
    const before = readSinc(mono, start + along * period, cutoff);
    return (1 - along) * here + along * before;
  });
}

/** Turns a frame in time so that its first partial is a sine, and takes its constant away. */
function alignedFrame(frame: Float64Array): Float64Array {
  const real = frame.slice();
  const imaginary = new Float64Array(FRAME_SAMPLES);
  const fft = fftOfSize(FRAME_SAMPLES);
  fft.forward(real, imaginary);
  const turn = -Math.PI / 2 - Math.atan2(imaginary[1], real[1]);
  real[0] = imaginary[0] = 0;
  for (let n = 1; n < FRAME_SAMPLES / 2; n++) {
    const [re, im] = [real[n], imaginary[n]];
    const [cos, sin] = [Math.cos(n * turn), Math.sin(n * turn)];
    real[n] = (2 * (re * cos - im * sin)) / FRAME_SAMPLES;
    imaginary[n] = (2 * (re * sin + im * cos)) / FRAME_SAMPLES;
  }
  real.fill(0, FRAME_SAMPLES / 2);
  imaginary.fill(0, FRAME_SAMPLES / 2);
  fft.inverse(real, imaginary);
  return real;
}

/** A wavetable along the pitched note of a cut. Throws an InputError when there is no pitch in it. */
export function wavetableFromCut(cut: Audio, id: string, name: string): Wavetable {
  const note = measure(cut);
  if (!note.partials) throw new InputError('No pitch was found in this cut, so there are no periods to take.');
  return wavetableFromSamples(id, name, extractWavetable(note).samples);
}
