import * as Comlink from 'comlink';
import type { BandlimitedTable } from '@imprint/core/engine/bandlimitedTable';
import type { PreparedSample } from '@imprint/core/engine/preparedSample';
import { type PhraseNote, renderPatch } from '@imprint/core/engine/render';
import { type ResourceRequest, prepareResource } from '@imprint/core/engine/resources';
import { type FirstPatch, firstPatch } from '@imprint/core/matching/firstPatch';
import { type Proof, printProof } from '@imprint/core/matching/proof';
import type { Patch } from '@imprint/core/patch/schema';
import { type Audio, toMono } from '@imprint/core/reading/audio';
import { findOnsets } from '@imprint/core/reading/onsets';
import { type AverageSpectrum, averageSpectrum } from '@imprint/core/reading/averageSpectrum';
import { readTone } from '@imprint/core/reading/read';
import type { Reading } from '@imprint/core/reading/schema';

type Progress = (fraction: number) => void;

/** Work on one tone: seconds at most, away from the page's thread. Cancelled by ending the worker. */
const toneWorker = {
  read: (cut: Audio, onProgress: Progress): Reading => readTone(cut, onProgress),

  firstPatch: (cut: Audio, name: string, onProgress: Progress): FirstPatch => firstPatch(cut, name, onProgress),

  printProof: (patch: Patch, notes: PhraseNote[], reference: Reading, onProgress: Progress): Proof =>
    printProof(patch, notes, reference, onProgress),

  render: (patch: Patch, notes: PhraseNote[], sampleRateHz: number, seconds: number): [Float32Array, Float32Array] =>
    renderPatch({ patch, notes, sampleRateHz, seconds }),

  onsets: (audio: Audio): number[] => findOnsets(toMono(audio), audio.sampleRateHz),

  spectrum: (audio: Audio): AverageSpectrum => averageSpectrum(audio),

  prepare: (request: ResourceRequest): BandlimitedTable | PreparedSample => prepareResource(request),
};

export type ToneWorker = typeof toneWorker;

Comlink.expose(toneWorker);
