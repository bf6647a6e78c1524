import { type Stft, analyseStft, synthesiseStft } from '../../dsp/stft';
import { hzFromMidi } from '../../dsp/pitch';
import { type Audio, type IsolatedTone, durationOf, sliceAudio, toMono } from '../audio';
import { findOnsets } from '../notes/onsets';
import type { ReadingNote } from '../schema';
import { type Steps, finish } from '../steps';
import { bandMask } from './bandMask';
import { hitMask } from './hitMask';
import type { Mask, MaskInput } from './mask';
import { combOf, partialMask } from './partialMask';
import { rangeMask } from './rangeMask';
import type { Isolation } from './settings';
import { tonalMask } from './tonalMask';

/** What an isolation makes of a cut. Kept and left out add up to the original. */
export interface Isolated {
  kept: Audio;
  leftOut: Audio;
  /** Level of each against the original, dB; −120 for nothing. */
  keptDb: number;
  leftOutDb: number;
  /** What of the kept part is not at the notes' partials, against all of it, dB; null without notes. */
  residueDb: number | null;
}

const masks: readonly Mask[] = [bandMask, rangeMask, tonalMask, hitMask, partialMask];

const SIZE_SECONDS = 0.093;
/** Combs of low notes need a longer window to stand apart. */
const LOW_HZ = 110;
/**
 * Longer cuts are taken in parts, so that memory stays bounded; the parts overlap by what masks look around.
 */
const PART_SECONDS = 20;
const MARGIN_SECONDS = 0.8;

/**
 * Takes a part of a cut out of the rest by soft masks on a short-time Fourier transform, with the mixture's
 * own phase; mid and side by adding and subtracting. The cut itself is not touched.
 *
 * @param notes of the cut, for the masks that follow them
 */
export function* isolateSteps(cut: Audio, isolation: Isolation, notes: readonly ReadingNote[]): Steps<Isolated> {
  const duration = durationOf(cut);
  const kept: Audio = {
    channels: cut.channels.map(({ length }) => new Float32Array(length)),
    sampleRateHz: cut.sampleRateHz,
  };
  const onsets = isolation.hitsDown ? findOnsets(toMono(cut), cut.sampleRateHz) : [];
  const placed = { total: 0, onPartials: 0 };
  for (let from = 0; from < duration; from += PART_SECONDS) {
    yield from / duration;
    const to = Math.min(duration, from + PART_SECONDS);
    const start = Math.max(0, from - MARGIN_SECONDS);
    const part = sliceAudio(cut, start, Math.min(duration, to + MARGIN_SECONDS));
    const shifted = notes.map((note) => ({ ...note, onsetSeconds: note.onsetSeconds - start }));
    const done = isolatePart(
      part,
      isolation,
      shifted,
      onsets.map((at) => at - start),
      placed,
    );
    const first = Math.round(from * cut.sampleRateHz);
    const skipped = first - Math.max(0, Math.round(start * cut.sampleRateHz));
    kept.channels.forEach((channel, c) => {
      const end = Math.min(channel.length, Math.round(to * cut.sampleRateHz));
      channel.set(done[c].subarray(skipped, skipped + end - first), first);
    });
  }
  const leftOut: Audio = {
    channels: cut.channels.map((channel, c) => channel.map((x, i) => x - kept.channels[c][i])),
    sampleRateHz: cut.sampleRateHz,
  };
  const whole = energyOf(cut);
  const aside = placed.total - placed.onPartials;
  return {
    kept,
    leftOut,
    keptDb: ratioDb(energyOf(kept), whole),
    leftOutDb: ratioDb(energyOf(leftOut), whole),
    residueDb: notes.length > 0 ? ratioDb(aside, placed.total) : null,
  };
}

/** All of it at once. See `isolateSteps`. */
export const isolate = (cut: Audio, isolation: Isolation, notes: readonly ReadingNote[] = []): Isolated =>
  finish(isolateSteps(cut, isolation, notes));

/** The tone that is kept, with what is left out as what sounds around it. */
export function isolatedTone(cut: Audio, isolation: Isolation, notes: readonly ReadingNote[]): IsolatedTone {
  const { kept, leftOut } = isolate(cut, isolation, notes);
  return { audio: kept, surroundings: leftOut };
}

function isolatePart(
  part: Audio,
  isolation: Isolation,
  notes: readonly ReadingNote[],
  onsets: readonly number[],
  placed: { total: number; onPartials: number },
): Float32Array[] {
  const channels = placedChannels(part.channels, isolation);
  const wanted = masks.filter((mask) => mask.isWanted(isolation));
  if (wanted.length === 0 && notes.length === 0) return channels;
  const lowest = Math.min(...notes.map(({ midi }) => hzFromMidi(midi)));
  const long = isolation.partialsOnly && lowest < LOW_HZ ? 2 : 1;
  const size = long * 2 ** Math.round(Math.log2(SIZE_SECONDS * part.sampleRateHz));
  const spectra = channels.map((channel) => analyseStft(channel, size));
  const input: MaskInput = {
    isolation,
    sampleRateHz: part.sampleRateHz,
    spectra,
    levels: levelsOf(spectra),
    notes,
    onsets,
  };
  const mask = new Float32Array(input.levels.length).fill(1);
  for (const { apply } of wanted) apply(input, mask);
  countPlaces(input, mask, placed);
  if (wanted.length === 0) return channels;
  return spectra.map((stft) => synthesiseStft(masked(stft, mask), part.channels[0].length));
}

/** What both sides share, what they do not, or both channels as they are. */
function placedChannels([left, right = left]: Float32Array[], { place }: Isolation): Float32Array[] {
  if (left === right) return place.kind === 'side' ? [new Float32Array(left.length)] : [left];
  if (place.kind === 'mid') {
    const mid = left.map((x, i) => 0.5 * (x + right[i]));
    return [mid, mid];
  }
  if (place.kind === 'side') {
    const side = left.map((x, i) => 0.5 * (x - right[i]));
    return [side, side.map((x) => -x)];
  }
  return [left, right];
}

function levelsOf(spectra: readonly Stft[]): Float32Array {
  const levels = new Float32Array(spectra[0].real.length);
  for (let i = 0; i < levels.length; i++) {
    let power = 0;
    for (const { real, imaginary } of spectra) power += real[i] ** 2 + imaginary[i] ** 2;
    levels[i] = Math.sqrt(power);
  }
  return levels;
}

/** Adds up how much of what is kept stands at partials of the notes. */
function countPlaces(input: MaskInput, mask: Float32Array, placed: { total: number; onPartials: number }): void {
  if (input.notes.length === 0) return;
  const comb = combOf(input);
  for (let i = 0; i < mask.length; i++) {
    const power = (mask[i] * input.levels[i]) ** 2;
    placed.total += power;
    placed.onPartials += comb[i] * power;
  }
}

function masked(stft: Stft, mask: Float32Array): Stft {
  return { ...stft, real: stft.real.map((x, i) => x * mask[i]), imaginary: stft.imaginary.map((x, i) => x * mask[i]) };
}

function energyOf({ channels }: Audio): number {
  let sum = 0;
  for (const channel of channels) for (let i = 0; i < channel.length; i++) sum += channel[i] * channel[i];
  return sum;
}

const ratioDb = (part: number, whole: number) => Math.max(-120, 10 * Math.log10(part / whole + 1e-12));
