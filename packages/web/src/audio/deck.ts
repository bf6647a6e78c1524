import type { ControlName } from '@imprint/core/engine/engine';
import { METER, meter } from '@imprint/core/engine/effects/chain/effectChain';
import type { PhraseNote } from '@imprint/core/engine/render';
import type { PatchResources } from '@imprint/core/engine/program/resources';
import type { ChainOwner } from '@imprint/core/patch/edits/chains';
import type { Patch } from '@imprint/core/patch/schema';
import type { Audio } from '@imprint/core/reading/audio';
import workletUrl from './worklet/deck.worklet?worker&url';
import { type DeckMessage, type DeckReport, type Side, deckState } from './worklet/messages';

/** What plays: an audio context at the reference's own rate, and the deck worklet in it. */
export interface Deck {
  readonly sampleRateHz: number;
  readonly positionSeconds: number;
  readonly playing: boolean;
  /** Whether anything can be heard; else positions and levels stand still. */
  readonly isRunning: boolean;
  /** Peaks of the output, full scale 1, falling slowly. */
  readonly peaks: [number, number];
  /** Levels of an effect in the chain of the watched layer or group, or of the patch, as they are now. */
  levelsOf(chain: ChainOwner['of'], index: number): EffectLevels;
  /** Chooses the layer and the group whose chains are measured. */
  watch(layerId: string, groupId: string | null): void;
  /**
   * Lets other sound be heard from `startSeconds` on in place of the reference's; null for the reference as
   * it is.
   */
  setOverlay(startSeconds: number, audio: Audio | null): void;
  setPatch(patch: Patch, resources: PatchResources): void;
  setPhrase(startSeconds: number, endSeconds: number, notes: PhraseNote[]): void;
  play(fromSeconds: number): void;
  stop(): void;
  setLoop(loop: { fromSeconds: number; toSeconds: number } | null): void;
  setSide(side: Side): void;
  setGains(referenceGain: number, patchGain: number): void;
  noteOn(noteId: number, midi: number, velocity: number): void;
  noteOff(noteId: number, velocity: number): void;
  /** Wheel and pressure 0..1, bend −1..1. */
  control(control: ControlName, value: number): void;
  startRecording(): void;
  /** Everything that was heard since `startRecording`. */
  stopRecording(): Promise<Audio>;
  close(): void;
}

/** Mean squares of what goes into an effect and comes out, its peak (full scale 1), and what it takes off. */
export interface EffectLevels {
  powerIn: number;
  powerOut: number;
  peakOut: number;
  reductionDb: number;
}

export interface DeckListener {
  /** Playing has reached the end of the file. */
  onEnded(): void;
  /** The audio thread has begun to run or is held, as `isRunning` says. */
  onRunning(): void;
}

/** How long the audio thread may take to let go of what it holds. */
const CLOSING_MS = 1000;
const SETTLING_MS = 100;

const nextTask = () => new Promise<void>((resolve) => setTimeout(resolve));

/**
 * Lets the browser start its audio service. The first audio context of a browser would do that within one
 * call and keep the page from answering for over 100 ms; listing the devices does it beside the page.
 */
async function wakeAudioService(): Promise<void> {
  try {
    await navigator.mediaDevices?.enumerateDevices();
  } catch {
    // Where listing them is not allowed the context starts the service.
  }
}

/**
 * Opens a deck for a reference, in steps between which the page can answer. Its audio context is held while
 * nothing is to be heard: one that runs takes a good part of a core, silent or not.
 */
export async function openDeck(reference: Audio, { onEnded, onRunning }: DeckListener): Promise<Deck> {
  await wakeAudioService();
  const context = new AudioContext({ sampleRate: reference.sampleRateHz, latencyHint: 'interactive' });
  await context.audioWorklet.addModule(workletUrl);
  // Making the node can take the browser tens of milliseconds.
  await nextTask();
  const memory = new SharedArrayBuffer(4 * deckState.length);
  const state = new Float32Array(memory);
  const node = new AudioWorkletNode(context, 'imprint-deck', {
    numberOfInputs: 0,
    outputChannelCount: [2],
    processorOptions: { state: memory },
  });
  node.connect(context.destination);
  await nextTask();
  let sent = 0;
  const send = (message: DeckMessage) => {
    sent++;
    node.port.postMessage(message);
  };
  context.onstatechange = onRunning;
  let recorded: ((audio: Audio) => void) | undefined;
  node.port.onmessage = ({ data }: MessageEvent<DeckReport>) => {
    if (data.kind === 'ended') onEnded();
    // Unless it has been told more since it said so.
    else if (data.kind === 'atRest' && data.received === sent) void context.suspend();
    else if (data.kind === 'recorded') recorded?.({ channels: data.channels, sampleRateHz: context.sampleRate });
  };
  send({ kind: 'reference', channels: reference.channels });
  await nextTask();
  const frames = (seconds: number) => Math.round(seconds * context.sampleRate);
  // Browsers start a context only after a gesture; every sound begins with one. One that is being held says
  // yet for a moment that it runs.
  const wake = () => {
    if (context.state !== 'closed') void context.resume();
  };

  return {
    sampleRateHz: context.sampleRate,
    get positionSeconds() {
      return state[deckState.positionFrame] / context.sampleRate;
    },
    get playing() {
      return state[deckState.playing] === 1;
    },
    get isRunning() {
      return context.state === 'running';
    },
    get peaks() {
      return [state[deckState.peakLeft], state[deckState.peakRight]] as [number, number];
    },
    levelsOf(chain, index) {
      const at = deckState.meters[chain] + METER * index;
      return {
        powerIn: state[at + meter.powerIn],
        powerOut: state[at + meter.powerOut],
        peakOut: state[at + meter.peakOut],
        reductionDb: state[at + meter.reductionDb],
      };
    },
    watch: (layerId, groupId) => send({ kind: 'watch', layerId, groupId }),
    setOverlay: (startSeconds, audio) =>
      send({
        kind: 'overlay',
        overlay: audio && { startFrame: frames(startSeconds), channels: audio.channels },
      }),
    setPatch: (patch, resources) => send({ kind: 'patch', patch, resources }),
    setPhrase: (startSeconds, endSeconds, notes) =>
      send({ kind: 'phrase', startFrame: frames(startSeconds), endFrame: frames(endSeconds), notes }),
    play(fromSeconds) {
      wake();
      send({ kind: 'play', fromFrame: frames(fromSeconds) });
    },
    stop: () => send({ kind: 'stop' }),
    setLoop: (loop) =>
      send({ kind: 'loop', loop: loop && { fromFrame: frames(loop.fromSeconds), toFrame: frames(loop.toSeconds) } }),
    setSide: (side) => send({ kind: 'side', side }),
    setGains: (referenceGain, patchGain) => send({ kind: 'gains', referenceGain, patchGain }),
    noteOn(noteId, midi, velocity) {
      wake();
      send({ kind: 'noteOn', noteId, midi, velocity });
    },
    noteOff: (noteId, velocity) => send({ kind: 'noteOff', noteId, velocity }),
    control: (control, value) => send({ kind: 'control', control, value }),
    startRecording() {
      wake();
      send({ kind: 'record', on: true });
    },
    stopRecording: () =>
      new Promise((resolve) => {
        recorded = resolve;
        send({ kind: 'record', on: false });
      }),
    close() {
      // A recording that is waited for ends with what there is.
      recorded?.({ channels: [new Float32Array(0), new Float32Array(0)], sampleRateHz: context.sampleRate });
      const end = () => {
        clearTimeout(late);
        node.port.onmessage = null;
        node.port.close();
        node.disconnect();
        if (context.state !== 'closed') void context.close();
      };
      // A context that never ran may not answer.
      const late = setTimeout(end, CLOSING_MS);
      node.port.onmessage = ({ data }: MessageEvent<DeckReport>) => {
        // The block in which it was said has to end, and its end to be noticed.
        if (data.kind === 'closed') setTimeout(end, SETTLING_MS);
      };
      // It has to run to let go.
      wake();
      send({ kind: 'close' });
    },
  };
}
