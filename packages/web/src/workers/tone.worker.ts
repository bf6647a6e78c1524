import * as Comlink from 'comlink';
import './progress';
import type { BandlimitedTable } from '@imprint/core/engine/tables/bandlimitedTable';
import type { PreparedSample } from '@imprint/core/engine/program/preparedSample';
import { type PhraseNote, renderToEnd } from '@imprint/core/engine/render';
import { type ResourceRequest, prepareResource } from '@imprint/core/engine/program/resources';
import { blindPair } from '@imprint/core/matching/blindTest';
import { type Contribution, contributionsOf } from '@imprint/core/matching/contributions';
import { effectOutcome } from '@imprint/core/matching/effectOutcome';
import type { Tone } from '@imprint/core/matching/comparison';
import type { Gap } from '@imprint/core/matching/gaps';
import { asLoudAs } from '@imprint/core/matching/loudness';
import { inTheTrack } from '@imprint/core/matching/inTheTrack';
import { type Proof, printProof } from '@imprint/core/matching/proof';
import { readWavetable } from '@imprint/core/formats/wavetable';
import { sampleFromSound, wavetableFromCut, wavetableFromSound } from '@imprint/core/matching/soundSources';
import type { ChainOwner } from '@imprint/core/patch/edits/chains';
import { fittingName } from '@imprint/core/patch/names';
import { pcmOf } from '@imprint/core/patch/contents/samplePcm';
import { decodeAudio } from '@imprint/core/formats/decode';
import type { Patch, Sample, Wavetable } from '@imprint/core/patch/schema';
import { type Audio, toMono } from '@imprint/core/reading/audio';
import { type PartialsOverTime, partialsOverTime } from '@imprint/core/reading/spectra/partialsOverTime';
import { type Spectrogram, computeSpectrogram } from '@imprint/core/reading/spectra/spectrogram';
import { type ReadingContext, readTone } from '@imprint/core/reading/read';
import { type WantedEvidence, evidenceOf } from '@imprint/core/reading/evidence';
import { type Isolated, isolateSteps } from '@imprint/core/reading/isolation/isolate';
import { type SuggestedIsolation, suggestIsolation } from '@imprint/core/reading/isolation/suggestIsolation';
import type { Isolation } from '@imprint/core/reading/isolation/settings';
import type { Reading, ReadingNote } from '@imprint/core/reading/schema';

type Progress = (fraction: number) => void;

/** What of a sound a spectrogram is of. */
export interface SpectrogramSpan {
  fromSeconds: number;
  toSeconds: number;
  minHz: number;
  maxHz: number;
}

const CLOSE_SECONDS = 0.5;

/** Work on one tone: seconds at most, away from the page's thread. Cancelled by ending the worker. */
const toneWorker = {
  read: (cut: Audio, context: ReadingContext, onProgress: Progress): Reading => readTone(cut, onProgress, context),

  isolate(cut: Audio, isolation: Isolation, notes: ReadingNote[], onProgress: Progress): Isolated {
    const steps = isolateSteps(cut, isolation, notes);
    let step = steps.next();
    for (; !step.done; step = steps.next()) onProgress(step.value);
    return step.value;
  },

  evidence: (cut: Audio, reading: Reading, wanted: WantedEvidence): Audio | null => evidenceOf(cut, reading, wanted),

  printProof: (patch: Patch, notes: PhraseNote[], reference: Tone, onProgress: Progress): Proof =>
    printProof(patch, notes, reference, onProgress),

  contributions: (patch: Patch, notes: PhraseNote[], reference: Tone, onProgress: Progress): Contribution[] =>
    contributionsOf(patch, notes, reference, onProgress),

  inTheTrack: (kept: Audio, leftOut: Audio, print: Audio): Audio => inTheTrack(kept, leftOut, print),

  blindPair: (reference: Audio, patch: Audio): [Audio, Audio] => blindPair(reference, patch),

  effectOutcome: (
    patch: Patch,
    owner: ChainOwner,
    effectId: string,
    notes: PhraseNote[],
    reference: Reading,
    onProgress: Progress,
  ): Gap[] => effectOutcome(patch, owner, effectId, notes, reference, onProgress),

  /** The notes until the last one has died away. */
  render: (patch: Patch, notes: PhraseNote[], sampleRateHz: number): [Float32Array, Float32Array] =>
    renderToEnd({ patch, notes, sampleRateHz }),

  spectrogram(audio: Audio, { maxHz, ...span }: SpectrogramSpan, topDb?: number): Spectrogram {
    const { sampleRateHz } = audio;
    // A close look wants short windows.
    const size = span.toSeconds - span.fromSeconds < CLOSE_SECONDS ? 2048 : 4096;
    return computeSpectrogram(toMono(audio), sampleRateHz, {
      ...span,
      maxHz: Math.min(maxHz, sampleRateHz / 2),
      columns: 420,
      rows: 110,
      size,
      topDb,
    });
  },

  partialsOverTime: (audio: Audio, reading: Reading, count: number): PartialsOverTime =>
    partialsOverTime(audio, reading, count),

  suggestIsolation: (cut: Audio, reading: Reading): SuggestedIsolation | null => suggestIsolation(cut, reading),

  asLoudAs: (patch: Patch, notes: PhraseNote[], audio: Audio): Patch => asLoudAs(patch, notes, audio),

  /** A sound file measured as the reference was. */
  async tone(bytes: Uint8Array, piece: Reading): Promise<Tone> {
    const audio = await decodeAudio(bytes);
    return { audio, reading: readTone(audio, undefined, { piece }) };
  },

  wavetableFromCut: (cut: Audio, id: string, name: string): Wavetable => wavetableFromCut(cut, id, name),

  async wavetableFromFile(bytes: Uint8Array, id: string, name: string): Promise<Wavetable> {
    return readWavetable(await decodeAudio(bytes), id, nameOf(name));
  },

  wavetableFromSample(sample: Sample, rootMidi: number): Wavetable {
    const audio = { channels: pcmOf(sample), sampleRateHz: sample.sampleRateHz };
    return wavetableFromSound(audio, rootMidi, sample.id, sample.name);
  },

  sampleFromCut: (cut: Audio, name: string) => sampleFromSound(cut, 'sample', name),

  async sampleFromFile(bytes: Uint8Array, name: string): Promise<{ sample: Sample; rootMidi: number }> {
    return sampleFromSound(await decodeAudio(bytes), 'sample', nameOf(name));
  },

  prepare: (request: ResourceRequest): BandlimitedTable | PreparedSample => prepareResource(request),
};

/** A file's name as the name of what is made of it. */
const nameOf = (fileName: string) => fittingName(fileName.replace(/\.[^.]+$/, ''), 'Untitled');

export type ToneWorker = typeof toneWorker;

Comlink.expose(toneWorker);
