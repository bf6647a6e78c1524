import { type Delay, createDelay } from '../../dsp/halfband';
import type { Layer } from '../../patch/schema';
import { type DcBlock, createDcBlock } from '../output/dcBlock';
import type { HeldNote, createHeldNotes } from './heldNotes';
import type { LayerChain } from '../chains/layerChain';
import type { Controls } from './modulation';
import type { LayerProgram } from '../program/program';
import { BLOCK_SAMPLES } from '../sources/source';
import { type Voice, createVoice } from './voice';

export const POLYPHONY = 32;
/** Voices beyond the polyphony, for those that are fading out to make room. */
const SPARE_VOICES = 8;
const MOST_VOICES = POLYPHONY + SPARE_VOICES;

type HeldNotes = ReturnType<typeof createHeldNotes>;

/** The voices of one layer, and what they are put through. */
export interface LayerVoices {
  id: string;
  groupId: string | null;
  program: LayerProgram;
  /**
   * This block of its voices, which other layers' effects may listen to; the right side is the left one while
   * it stands in the middle.
   */
  sides: readonly [left: Float64Array, right: Float64Array];
  /** Whether there is anything in them. */
  heard: boolean;
  voices: Voice[];
  /** One more. */
  makeVoice: () => Voice;
  /** The sounding ones, in the order in which they began. */
  active: Voice[];
  /** Those that were cut off, in their short fade: they are heard past the chains. */
  cut: Voice[];
  /** Takes constants away, where the layer can make any. */
  dcBlocks: DcBlock[];
  /** What the sum of the voices is put through. */
  chain: LayerChain | undefined;
  /** Hold the layer back by as much as the chains of others do. */
  delays: Delay[];
  /** Gain of a layer that has been left, which fades with its echoes; 1 otherwise. */
  leftGain: number;
  /** Where the last note stood when it began or slid, for the next glide. */
  lastMidi: number | undefined;
}

/**
 * @param latency samples by which the latest of all layers is late behind its chain
 * @param isLive whether all voices are made at once, so that none has to be while it plays
 */
export function createLayerVoices(
  sampleRateHz: number,
  { id, groupId }: Layer,
  program: LayerProgram,
  chain: LayerChain | undefined,
  latency: number,
  isLive: boolean,
): LayerVoices {
  const makeVoice = () => createVoice(sampleRateHz, program);
  const waits = latency - (chain?.latency ?? 0);
  return {
    id,
    groupId,
    program,
    sides: [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)],
    heard: false,
    chain,
    delays: waits > 0 ? [createDelay(waits, BLOCK_SAMPLES), createDelay(waits, BLOCK_SAMPLES)] : [],
    leftGain: 1,
    voices: Array.from({ length: isLive ? MOST_VOICES : 0 }, makeVoice),
    makeVoice,
    active: [],
    cut: [],
    dcBlocks: program.makesDc ? [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)] : [],
    lastMidi: undefined,
  };
}

/** What goes on sounding of a layer that is left: its voices, all on their way out, in a block of its own. */
export const leftLayer = (layer: LayerVoices): LayerVoices => ({
  ...layer,
  sides: [layer.sides[0].slice(), layer.sides[1].slice()],
  active: [...layer.active, ...layer.cut],
  cut: [],
});

/** Begins a note, or lets the one voice of a layer slide to it. */
export function startVoice(layer: LayerVoices, note: HeldNote, frame: number): void {
  const { active, program } = layer;
  const { mode, glide } = program.voice;
  let holding = 0;
  let newest: Voice | undefined;
  for (let v = 0; v < active.length; v++) {
    if (active[v].released) continue;
    newest = active[v];
    holding++;
  }
  const glides = glide === 'always' || (glide === 'overlap' && holding > 0);
  const glideFrom = glides ? (newest?.midi ?? layer.lastMidi) : undefined;
  layer.lastMidi = note.midi;
  layer.chain?.begin(note, frame);
  if (mode === 'legato' && newest) {
    newest.slideTo(note.noteId, note.midi, frame);
    return;
  }
  makeRoom(layer, frame);
  const voice = freeVoice(layer);
  voice.start(note, glideFrom);
  active.push(voice);
}

/**
 * Has voices fade so that one more may sound: of a layer with many those that are released go first, then the
 * held ones, whichever began first; of a layer with one voice all.
 */
function makeRoom({ active, program }: LayerVoices, frame: number): void {
  const { mode, polyphony } = program.voice;
  let over = 1 - (mode === 'poly' ? polyphony : 1);
  for (let v = 0; v < active.length; v++) if (!active[v].fading) over++;
  for (let pass = 0; pass < 2; pass++) {
    for (let v = 0; v < active.length && over > 0; v++) {
      const voice = active[v];
      if (voice.fading || (pass === 0 && !voice.released)) continue;
      voice.fade(frame);
      over--;
    }
  }
}

/** Lets a note go. A layer with one voice goes back to the note that is still held, if there is one. */
export function endNote(layer: LayerVoices, held: HeldNotes, noteId: number, frame: number, velocity: number): void {
  const { active, program } = layer;
  const back = program.voice.mode !== 'poly' && held.count > 0 ? held.at(held.count - 1) : undefined;
  for (let v = 0; v < active.length; v++) {
    const voice = active[v];
    if (voice.noteId !== noteId || voice.released) continue;
    if (back) {
      layer.lastMidi = back.midi;
      voice.slideTo(back.noteId, back.midi, frame);
    } else {
      voice.release(frame, velocity);
      layer.chain?.release(frame, velocity);
    }
  }
}

/** Renders voices and leaves those in the list that go on. */
export function keepSounding(
  program: LayerProgram,
  voices: Voice[],
  controls: Controls,
  left: Float64Array,
  right: Float64Array,
  blockFrame: number,
): void {
  let kept = 0;
  for (let v = 0; v < voices.length; v++) {
    const voice = voices[v];
    voice.process(program, controls, left, right, blockFrame);
    if (voice.sounding) voices[kept++] = voice;
  }
  voices.length = kept;
}

/** Renders the voices of a layer into its block. */
export function renderVoices(layer: LayerVoices, controls: Controls, blockFrame: number): void {
  const { program, active, dcBlocks } = layer;
  const [left, right] = layer.sides;
  layer.heard = active.length > 0 || !areSilent(dcBlocks);
  if (!layer.heard) return;
  const { centred } = program;
  left.fill(0);
  if (!centred) right.fill(0);
  keepSounding(program, active, controls, left, centred ? left : right, blockFrame);
  if (dcBlocks.length > 0) {
    dcBlocks[0].run(left);
    if (!centred) dcBlocks[1].run(right);
  }
  if (centred) right.set(left);
}

/**
 * A voice that is not sounding; without one the first that began, which has faded longest, is taken at once.
 */
function freeVoice({ voices, active, cut, makeVoice }: LayerVoices): Voice {
  for (let v = 0; v < voices.length; v++) if (!active.includes(voices[v]) && !cut.includes(voices[v])) return voices[v];
  if (voices.length < MOST_VOICES) {
    voices.push(makeVoice());
    return voices[voices.length - 1];
  }
  return (cut.shift() ?? active.shift())!;
}

/** Whether nothing is left in them. */
function areSilent(blocks: readonly DcBlock[]): boolean {
  for (let i = 0; i < blocks.length; i++) if (!blocks[i].silent) return false;
  return true;
}

export const isSounding = ({ active, chain, leftGain }: LayerVoices) =>
  active.length > 0 || (chain !== undefined && !chain.silent && leftGain > 0);
