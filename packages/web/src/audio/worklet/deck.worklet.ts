import { type Engine, createEngine } from '@imprint/core/engine/engine';
import { ringSeconds, scheduleNotes } from '@imprint/core/engine/render';
import { NO_RESOURCES } from '@imprint/core/engine/program/resources';
import type { ChainOwner } from '@imprint/core/patch/edits/chains';
import { emptyPatch } from '@imprint/core/patch/defaults';
import { type DeckMessage, type DeckReport, type Side, deckState } from './messages';

const BLOCK = 128;
/** How fast the meters fall, per block. */
const METER_FALL = 0.97;
/** What the meters show of what cannot be heard. */
const UNHEARD = 1e-4;
/** It rests no sooner than so long after the last sound. */
const LEAST_REST_SECONDS = 1;

type Overlay = Extract<DeckMessage, { kind: 'overlay' }>['overlay'];

/** Puts what an overlay has of a stretch in the place of what is there. */
function layOver(
  overlay: Overlay,
  left: Float32Array,
  right: Float32Array,
  offset: number,
  count: number,
  position: number,
): void {
  if (!overlay) return;
  const { startFrame, channels } = overlay;
  const [first, second = first] = channels;
  const from = Math.max(0, startFrame - position);
  const to = Math.min(count, startFrame + first.length - position);
  for (let i = from; i < to; i++) {
    left[offset + i] = first[position + i - startFrame];
    right[offset + i] = second[position + i - startFrame];
  }
}

/**
 * Plays the reference and the patch in step and flips between them. Both always run; flipping only moves two
 * gains over one block, so it is immediate and does not click. Keys played live sound on an engine of their
 * own.
 */
class Deck extends AudioWorkletProcessor {
  private readonly state: Float32Array;
  private readonly phraseEngine: Engine;
  private readonly liveEngine: Engine;
  private reference: Float32Array[] = [];
  private overlay: Overlay = null;
  /** What lay over the reference until now; it is faded out within one block. */
  private leaving: Overlay | undefined;
  private phrase: Extract<DeckMessage, { kind: 'phrase' }> = { kind: 'phrase', startFrame: 0, endFrame: 0, notes: [] };
  private position = 0;
  private playing = false;
  private closed = false;
  private loop: { fromFrame: number; toFrame: number } | null = null;
  private side: Side = 'reference';
  private gains = { reference: 1, patch: 1 };
  private referenceGain = 0;
  private patchGain = 0;
  private watched: ChainOwner[] = [];
  private recording: [Float32Array[], Float32Array[]] | null = null;
  private received = 0;
  private quietFrames = 0;
  /** How long it is quiet at the end of a sound; echoes come back after silence. */
  private restFrames = 0;
  private readonly patchL = new Float32Array(BLOCK);
  private readonly patchR = new Float32Array(BLOCK);
  private readonly liveL = new Float32Array(BLOCK);
  private readonly liveR = new Float32Array(BLOCK);

  constructor(options: { processorOptions: { state: SharedArrayBuffer } }) {
    super();
    this.state = new Float32Array(options.processorOptions.state);
    const empty = emptyPatch();
    this.phraseEngine = createEngine({ sampleRateHz: sampleRate }, empty, NO_RESOURCES);
    this.liveEngine = createEngine({ sampleRateHz: sampleRate, seed: 2 }, empty, NO_RESOURCES);
    this.port.onmessage = ({ data }: MessageEvent<DeckMessage>) => this.receive(data);
  }

  private receive(message: DeckMessage): void {
    this.received++;
    switch (message.kind) {
      case 'reference':
        this.reference = message.channels;
        this.overlay = null;
        this.stop();
        this.position = 0;
        break;
      case 'overlay':
        if (this.playing) this.leaving = this.overlay;
        this.overlay = message.overlay;
        break;
      case 'patch':
        this.phraseEngine.setPatch(message.patch, message.resources);
        this.liveEngine.setPatch(message.patch, message.resources);
        this.restFrames = ringSeconds(message.patch) * sampleRate;
        break;
      case 'phrase':
        this.phrase = message;
        if (this.playing) this.cue();
        break;
      case 'play':
        this.position = message.fromFrame;
        this.playing = true;
        this.cue();
        break;
      case 'stop':
        this.stop();
        break;
      case 'loop':
        this.loop = message.loop;
        break;
      case 'side':
        this.side = message.side;
        break;
      case 'gains':
        this.gains = { reference: message.referenceGain, patch: message.patchGain };
        break;
      case 'noteOn':
      case 'noteOff':
      case 'control':
        this.liveEngine.schedule({ ...message, frame: this.liveEngine.frame });
        break;
      case 'watch':
        this.watched = [
          { of: 'layer', id: message.layerId },
          ...(message.groupId === null ? [] : [{ of: 'group' as const, id: message.groupId }]),
          { of: 'patch' },
        ];
        break;
      case 'record':
        if (message.on) this.recording = [[], []];
        else if (this.recording) {
          const [left, right] = this.recording;
          this.recording = null;
          this.report({ kind: 'recorded', channels: [joined(left), joined(right)] });
        }
        break;
      case 'close':
        this.close();
    }
  }

  /**
   * Lets go of everything. A processor that says that it is done lets its node go, too; else both stay as
   * long as the page.
   */
  private close(): void {
    this.stop();
    this.reference = [];
    this.overlay = null;
    this.recording = null;
    this.closed = true;
    this.port.onmessage = null;
  }

  private report(report: DeckReport): void {
    this.port.postMessage(report);
  }

  private stop(): void {
    this.playing = false;
    this.phraseEngine.clearSchedule();
    this.phraseEngine.schedule({ kind: 'cutOff', frame: this.phraseEngine.frame });
  }

  /** Lets the phrase start over from the present position. */
  private cue(): void {
    const engine = this.phraseEngine;
    const { startFrame, notes } = this.phrase;
    engine.clearSchedule();
    engine.schedule({ kind: 'cutOff', frame: engine.frame });
    // A position in the middle of the first note still lets it sound.
    const elapsed = this.position - startFrame;
    const due = notes.filter((note) => (note.onsetSeconds + note.durationSeconds) * sampleRate > elapsed);
    const shifted = due.map((note) => ({
      ...note,
      durationSeconds: note.durationSeconds + Math.min(0, note.onsetSeconds - elapsed / sampleRate),
      onsetSeconds: Math.max(0, note.onsetSeconds - elapsed / sampleRate),
    }));
    scheduleNotes(shifted, sampleRate, engine.schedule, engine.frame);
  }

  process(_inputs: Float32Array[][], outputs: Float32Array[][]): boolean {
    if (this.closed) {
      // Told only now: a context that is closed before this was said keeps its node.
      this.report({ kind: 'closed' });
      return false;
    }
    const [left, right] = outputs[0];
    this.patchL.fill(0);
    this.patchR.fill(0);
    left.fill(0);
    right.fill(0);
    if (this.playing) this.playBlock(left, right);
    else this.phraseEngine.process(this.patchL, this.patchR, 0, BLOCK);
    this.leaving = undefined;
    this.liveEngine.process(this.liveL, this.liveR, 0, BLOCK);
    this.mix(left, right);
    this.meter(left, right);
    this.restIfQuiet();
    if (this.recording) {
      this.recording[0].push(left.slice());
      this.recording[1].push(right.slice());
    }
    return true;
  }

  /** Says so when nothing has been heard for as long as the patch could ring. */
  private restIfQuiet(): void {
    const { state, phraseEngine, liveEngine } = this;
    const isHeard =
      this.playing ||
      this.recording !== null ||
      phraseEngine.soundingVoices + liveEngine.soundingVoices > 0 ||
      Math.max(state[deckState.peakLeft], state[deckState.peakRight]) > UNHEARD;
    this.quietFrames = isHeard ? 0 : this.quietFrames + BLOCK;
    if (this.quietFrames < LEAST_REST_SECONDS * sampleRate + this.restFrames) return;
    this.quietFrames = 0;
    this.report({ kind: 'atRest', received: this.received });
  }

  /** Fills the block from the reference and the phrase, which start over together where a loop wraps. */
  private playBlock(left: Float32Array, right: Float32Array): void {
    const length = this.reference[0]?.length ?? 0;
    for (let done = 0; done < BLOCK && this.playing;) {
      const end = this.loop ? this.loop.toFrame : length;
      const count = Math.min(BLOCK - done, Math.max(0, end - this.position));
      if (count > 0) {
        this.copyReference(left, right, done, count);
        this.phraseEngine.process(this.patchL, this.patchR, done, count);
        this.position += count;
        done += count;
      }
      if (this.position < end) continue;
      if (this.loop) {
        this.position = this.loop.fromFrame;
        this.cue();
      } else {
        this.stop();
        this.report({ kind: 'ended' });
        this.phraseEngine.process(this.patchL, this.patchR, done, BLOCK - done);
      }
    }
  }

  private copyReference(left: Float32Array, right: Float32Array, offset: number, count: number): void {
    const [first, second = first] = this.reference;
    // As late as the chains make the patch, so that a flip stays in step.
    const position = this.position - this.phraseEngine.latency;
    for (let i = Math.max(0, -position); i < count; i++) {
      left[offset + i] = first[position + i];
      right[offset + i] = second[position + i];
    }
    const { leaving } = this;
    if (leaving === undefined) {
      layOver(this.overlay, left, right, offset, count, position);
      return;
    }
    // One block of both, the earlier one fading into the other.
    const [oldL, oldR] = [left.slice(), right.slice()];
    layOver(leaving, oldL, oldR, offset, count, position);
    layOver(this.overlay, left, right, offset, count, position);
    for (let i = offset; i < offset + count; i++) {
      const share = i / BLOCK;
      left[i] = oldL[i] + share * (left[i] - oldL[i]);
      right[i] = oldR[i] + share * (right[i] - oldR[i]);
    }
  }

  private mix(left: Float32Array, right: Float32Array): void {
    // Outside the cut there is nothing to flip to; the patch then is silent, as it should be.
    const referenceTarget = this.side === 'reference' ? this.gains.reference : 0;
    const patchTarget = this.side === 'patch' ? this.gains.patch : 0;
    const referenceStep = (referenceTarget - this.referenceGain) / BLOCK;
    const patchStep = (patchTarget - this.patchGain) / BLOCK;
    for (let i = 0; i < BLOCK; i++) {
      // On the last sample the gains are exact, so that a block at rest is multiplied by the very number
      // asked for.
      const reference = i === BLOCK - 1 ? referenceTarget : this.referenceGain + referenceStep * (i + 1);
      const patch = i === BLOCK - 1 ? patchTarget : this.patchGain + patchStep * (i + 1);
      left[i] = reference * left[i] + patch * this.patchL[i] + this.liveL[i];
      right[i] = reference * right[i] + patch * this.patchR[i] + this.liveR[i];
    }
    this.referenceGain = referenceTarget;
    this.patchGain = patchTarget;
  }

  private meter(left: Float32Array, right: Float32Array): void {
    let peakLeft = this.state[deckState.peakLeft] * METER_FALL;
    let peakRight = this.state[deckState.peakRight] * METER_FALL;
    for (let i = 0; i < BLOCK; i++) {
      peakLeft = Math.max(peakLeft, Math.abs(left[i]));
      peakRight = Math.max(peakRight, Math.abs(right[i]));
    }
    this.state[deckState.positionFrame] = this.position;
    this.state[deckState.playing] = this.playing ? 1 : 0;
    this.state[deckState.peakLeft] = peakLeft;
    this.state[deckState.peakRight] = peakRight;
    for (const owner of this.watched) this.meterChain(owner);
  }

  /** Levels in a chain, of whichever engine has more in it: the phrase's, or that of the keys. */
  private meterChain(owner: ChainOwner): void {
    const phrase = this.phraseEngine.metersOf(owner);
    const live = this.liveEngine.metersOf(owner);
    if (!phrase || !live) return;
    const at = deckState.meters[owner.of];
    for (let i = 0; i < phrase.length; i++) this.state[at + i] = Math.max(phrase[i], live[i]);
  }
}

function joined(blocks: Float32Array[]): Float32Array {
  const all = new Float32Array(blocks.length * BLOCK);
  blocks.forEach((block, i) => all.set(block, i * BLOCK));
  return all;
}

registerProcessor('imprint-deck', Deck);
