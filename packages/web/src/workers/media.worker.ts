import * as Comlink from 'comlink';
import './progress';
import { decodeAudio } from '@imprint/core/formats/decode';
import { type ExposedMoment, exposedSteps } from '@imprint/core/reading/cuts/exposedMoments';
import { type Audio, toMono } from '@imprint/core/reading/audio';
import { type Peaks, measurePeaks } from '@imprint/core/reading/partials/peaks';
import { onsetsOf, strengthSteps } from '@imprint/core/reading/notes/onsets';
import type { Grid } from '@imprint/core/reading/piece/grid';
import { type RepeatedLine, repeatedLineSteps } from '@imprint/core/reading/piece/repeatedLines';
import { type Piece, pieceSteps } from '@imprint/core/reading/piece/piece';
import { type Spectrogram, computeSpectrogram } from '@imprint/core/reading/spectra/spectrogram';
import { type Section, sectionSteps } from '@imprint/core/reading/piece/sections';
import type { Steps } from '@imprint/core/reading/steps';

export interface LoadedReference {
  /** Samples in shared memory: the page, the workers and the audio thread read the same copy. */
  audio: Audio;
  peaks: Peaks;
}

/** Sound that stands in for a stretch of the reference. */
export interface Overlay {
  startSeconds: number;
  audio: Audio;
}

const SAMPLES_PER_PEAK = 256;
let mono: Float64Array | undefined;
/** Onset strength of the whole, once it was worked out. */
let strength: Float64Array | undefined;
let sampleRateHz = 0;
/** Work of a person's own goes first. */
let paused = false;
/** Counts up when work is ended: what began before gives up. */
let stops = 0;

/** Work on whole files. One worker holds one reference. */
const mediaWorker = {
  async load(url: string, onProgress: (fraction: number) => void): Promise<LoadedReference> {
    const bytes = await download(url, (fraction) => onProgress(0.4 * fraction));
    const decoded = await decodeAudio(bytes);
    onProgress(0.8);
    const channels = decoded.channels.map(toShared);
    const audio: Audio = { channels, sampleRateHz: decoded.sampleRateHz };
    mono = toMono(audio);
    sampleRateHz = decoded.sampleRateHz;
    const peaks = measurePeaks(channels, SAMPLES_PER_PEAK);
    onProgress(1);
    return { audio, peaks };
  },

  /** @param overlay what is shown in place of a stretch of the reference */
  spectrogram(
    fromSeconds: number,
    toSeconds: number,
    columns: number,
    rows: number,
    overlay: Overlay | null,
  ): Spectrogram | null {
    if (!mono) return null;
    const maxHz = Math.min(16000, sampleRateHz / 2);
    const wanted = ((toSeconds - fromSeconds) * sampleRateHz) / columns;
    // A close look wants short windows, a far one long ones.
    const size = wanted > 1024 ? 8192 : wanted > 96 ? 4096 : 2048;
    const options = { columns, rows, minHz: 30, maxHz, size };
    if (!overlay) return computeSpectrogram(mono, sampleRateHz, { ...options, fromSeconds, toSeconds });
    const first = Math.max(0, Math.floor(fromSeconds * sampleRateHz) - size);
    const shown = mono.slice(first, Math.ceil(toSeconds * sampleRateHz) + size);
    const over = toMono(overlay.audio);
    const at = Math.round(overlay.startSeconds * sampleRateHz) - first;
    for (let i = Math.max(0, -at); i < over.length && at + i < shown.length; i++) shown[at + i] = over[i];
    const moved = first / sampleRateHz;
    const span = { fromSeconds: fromSeconds - moved, toSeconds: toSeconds - moved };
    return computeSpectrogram(shown, sampleRateHz, { ...options, ...span });
  },

  /**
   * Takes seconds for a long file, but pictures that are asked for meanwhile come first. Null when it was
   * stopped.
   */
  async onsets(): Promise<number[] | null> {
    if (!mono) return [];
    strength ??= await inTurns(strengthSteps(mono, sampleRateHz));
    return strength ? onsetsOf(strength, mono, sampleRateHz) : null;
  },

  /** Where one tone is nearly alone. */
  async exposed(onsets: number[]): Promise<ExposedMoment[] | null> {
    return mono ? ((await inTurns(exposedSteps(mono, sampleRateHz, onsets))) ?? null) : [];
  },

  /** Stretches that stay the same kind of sound, with their keys. */
  async sections(): Promise<Section[] | null> {
    return mono ? ((await inTurns(sectionSteps(mono, sampleRateHz))) ?? null) : [];
  },

  /** Bars in which the line of a stretch is played again. */
  async repeatedLines(span: { fromSeconds: number; toSeconds: number }, grid: Grid): Promise<RepeatedLine[]> {
    return mono ? ((await inTurns(repeatedLineSteps(mono, sampleRateHz, span, grid))) ?? []) : [];
  },

  /** Puts what takes long aside, or goes on with it. */
  pause(wanted: boolean): void {
    paused = wanted;
  },

  /** Ends what takes long; it gives null then. */
  stop(): void {
    stops++;
  },

  /** To be asked for after the onsets, from which the tempo is told. */
  async piece(): Promise<Piece | null> {
    return mono && strength ? ((await inTurns(pieceSteps(strength, mono, sampleRateHz))) ?? null) : null;
  },
};

export type MediaWorker = typeof mediaWorker;

const TURN_MS = 40;
const PAUSE_MS = 100;

/** Does long work in turns, between which other calls are answered; undefined when it was ended. */
async function inTurns<T>(steps: Steps<T>): Promise<T | undefined> {
  const begun = stops;
  for (;;) {
    if (stops !== begun) return undefined;
    const until = performance.now() + TURN_MS;
    while (performance.now() < until) {
      const step = steps.next();
      if (step.done) return step.value;
    }
    do await new Promise((resolve) => setTimeout(resolve, paused ? PAUSE_MS : 0));
    while (paused);
  }
}

async function download(url: string, onProgress: (fraction: number) => void): Promise<Uint8Array> {
  const response = await fetch(url);
  if (!response.ok || !response.body) throw new Error('The reference could not be loaded from the server.');
  const total = Number(response.headers.get('Content-Length') ?? 0);
  const bytes = new Uint8Array(total);
  let received = 0;
  const reader = response.body.getReader();
  for (let part = await reader.read(); !part.done; part = await reader.read()) {
    bytes.set(part.value, received);
    received += part.value.length;
    onProgress(received / total);
  }
  return bytes;
}

function toShared(channel: Float32Array): Float32Array {
  const shared = new Float32Array(new SharedArrayBuffer(channel.length * 4));
  shared.set(channel);
  return shared;
}

Comlink.expose(mediaWorker);
