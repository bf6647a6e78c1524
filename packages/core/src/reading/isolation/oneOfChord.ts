import { type Fft, fftOfSize, nextPowerOfTwo } from '../../dsp/fft';
import { hzFromMidi } from '../../dsp/pitch';
import type { Audio } from '../audio';
import { type PartialFrames, measurePartials } from '../partials/partialFrames';
import type { ReadingNote } from '../schema';
import { isolate } from './isolate';
import { NO_ISOLATION } from './settings';

/** Lines that stand nearer are heard as one by the windows of the isolation. */
const APART_HZ = 30;
const HOP_SECONDS = 0.02;
/** As far as a partial's like is looked for, in twos: of many tones every second partial is missing. */
const LIKE = [2, 4, 6];
const LEAST = 1e-9;

const hzOf = ({ midi, cents }: ReadingNote) => hzFromMidi(midi + cents / 100);

/**
 * One note of a chord by its partials. Those that it shares with others, which beat with them, are made anew
 * as loud as its other partials around them let expect, since spectra of tones are smooth (Klapuri 2003,
 * "Multiple fundamental frequency estimation based on harmonicity and spectral smoothness").
 *
 * @param chord all its notes, in seconds from the start of the cut
 */
export function oneOfChord(cut: Audio, chord: readonly ReadingNote[], note: ReadingNote): Audio {
  const { kept } = isolate(cut, { ...NO_ISOLATION, partialsOnly: true }, [note]);
  const f0Hz = hzOf(note);
  const others = chord.filter((other) => other !== note).map(hzOf);
  const isShared = (n: number) =>
    others.some((other) => Math.abs(Math.max(1, Math.round((n * f0Hz) / other)) * other - n * f0Hz) < APART_HZ);
  const { sampleRateHz } = cut;
  return { sampleRateHz, channels: kept.channels.map((channel) => withOwn(channel, sampleRateHz, f0Hz, isShared)) };
}

/** A partial that is shared, and the nearest of its like on both sides that are not. */
interface Shared {
  n: number;
  below: number;
  above: number;
}

function withOwn(
  channel: Float32Array,
  sampleRateHz: number,
  f0Hz: number,
  isShared: (n: number) => boolean,
): Float32Array {
  const frames = measurePartials(Float64Array.from(channel), sampleRateHz, () => f0Hz, HOP_SECONDS);
  const shared = sharedOf(frames.count, isShared);
  const lead = Array.from({ length: frames.count }, (_, i) => i + 1).find((n) => !isShared(n));
  if (shared.length === 0 || lead === undefined) return channel;
  const size = nextPowerOfTwo(channel.length);
  const fft = fftOfSize(size);
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  re.set(channel);
  fft.forward(re, im);
  const width = (f0Hz * size) / sampleRateHz;
  const turned = phaseOf(fft, re, im, lead, width);
  const gone = new Set(shared.map(({ n }) => n));
  for (let k = 0; k < size; k++) {
    if (!gone.has(Math.round(Math.min(k, size - k) / width))) continue;
    re[k] = 0;
    im[k] = 0;
  }
  fft.inverse(re, im);
  const out = Float32Array.from({ length: channel.length }, (_, i) => re[i] / size);
  for (const one of shared) addPartial(out, one, frames, sampleRateHz, turned);
  return out;
}

function sharedOf(count: number, isShared: (n: number) => boolean): Shared[] {
  const likeOf = (n: number, side: number) =>
    LIKE.map((by) => n + side * by).find((at) => at >= 1 && at <= count && !isShared(at));
  return Array.from({ length: count }, (_, i) => i + 1)
    .filter(isShared)
    .flatMap((n) => {
      const [below, above] = [likeOf(n, -1), likeOf(n, 1)];
      return below === undefined || above === undefined ? [] : [{ n, below, above }];
    });
}

/** The phase of the fundamental over time, by the analytic signal of a partial that is not shared. */
function phaseOf(fft: Fft, re: Float64Array, im: Float64Array, n: number, width: number): Float64Array {
  const from = Math.round((n - 0.5) * width);
  const to = Math.round((n + 0.5) * width);
  const ownRe = new Float64Array(re.length);
  const ownIm = new Float64Array(re.length);
  ownRe.set(re.subarray(from, to), from);
  ownIm.set(im.subarray(from, to), from);
  fft.inverse(ownRe, ownIm);
  let whole = 0;
  let before = 0;
  return ownRe.map((x, i) => {
    const phase = Math.atan2(ownIm[i], x);
    if (phase < before - Math.PI) whole += 2 * Math.PI;
    if (phase > before + Math.PI) whole -= 2 * Math.PI;
    before = phase;
    return (phase + whole) / n;
  });
}

/** Adds a partial whose level lies between those of two others, straight in dB over octaves. */
function addPartial(
  out: Float32Array,
  { n, below, above }: Shared,
  { seconds, amplitudes, count }: PartialFrames,
  sampleRateHz: number,
  turned: Float64Array,
): void {
  const share = Math.log(n / below) / Math.log(above / below);
  const levels = seconds.map((_, t) => {
    const [low, high] = [below, above].map((like) => Math.log(amplitudes[t * count + like - 1] + LEAST));
    return Math.exp(low + share * (high - low));
  });
  let frame = 0;
  for (let i = 0; i < out.length; i++) {
    const at = i / sampleRateHz;
    while (frame < seconds.length - 2 && seconds[frame + 1] < at) frame++;
    const part = Math.min(1, Math.max(0, (at - seconds[frame]) / HOP_SECONDS));
    const level = levels[frame] + part * ((levels[frame + 1] ?? levels[frame]) - levels[frame]);
    out[i] += level * Math.cos(n * turned[i]);
  }
}
