import type { Patch } from '../patch/schema';
import { type LayerProgram, type PreparedTables, compileLayer } from './program';
import { CONTROL_SAMPLES, type Voice, createVoice } from './voice';

export const POLYPHONY = 32;
/** Voices beyond the polyphony, for those that are fading out to make room. */
const SPARE_VOICES = 8;

/** A note event at an absolute frame of the engine's own clock. */
export type EngineEvent =
  | { kind: 'noteOn'; frame: number; noteId: number; midi: number; velocity: number }
  | { kind: 'noteOff'; frame: number; noteId: number }
  | { kind: 'allOff'; frame: number }
  /** Ends everything within a few milliseconds, whatever the releases say. */
  | { kind: 'cutOff'; frame: number };

/**
 * The block engine: the same code live, offline and in a match. Its blocks are aligned to its own clock, so the samples do not
 * depend on how the host cuts them.
 */
export interface Engine {
  /** Frames rendered so far. */
  readonly frame: number;
  readonly soundingVoices: number;
  /** Events may come in any order, but must lie at or after `frame`; earlier ones happen at once. */
  schedule(event: EngineEvent): void;
  /** Forgets events that have not happened yet. */
  clearSchedule(): void;
  /** Takes over a changed patch. Voices go on when only values changed, and start over under a short fade when the structure did. */
  setPatch(patch: Patch, tables: PreparedTables): void;
  /** Fills `frames` samples of both outputs from `offset` on. */
  process(left: Float32Array, right: Float32Array, offset: number, frames: number): void;
}

interface LayerVoices {
  program: LayerProgram;
  voices: Voice[];
  /** The sounding ones, in the order in which they began. */
  active: Voice[];
}

interface HeldNote {
  noteId: number;
  midi: number;
  velocity: number;
  startFrame: number;
  seed: number;
}

export function createEngine(
  options: { sampleRateHz: number; seed?: number },
  initialPatch: Patch,
  initialTables: PreparedTables,
): Engine {
  const { sampleRateHz, seed = 1 } = options;
  const blockL = new Float64Array(CONTROL_SAMPLES);
  const blockR = new Float64Array(CONTROL_SAMPLES);
  /** Samples of the current block that the host has not asked for yet. */
  let left = 0;
  /** Clock at the start of the next block. */
  let blockFrame = 0;
  let noteCounter = 0;
  let events: EngineEvent[] = [];
  const held = new Map<number, HeldNote>();
  let layers: LayerVoices[] = [];
  let leaving: LayerVoices[] = [];
  let structure = '';

  setPatch(initialPatch, initialTables);

  function setPatch(patch: Patch, tables: PreparedTables): void {
    const programs = patch.layers.map((layer) => compileLayer(layer, tables));
    const nextStructure = structureOf(patch);
    if (nextStructure === structure) {
      layers.forEach((layer, i) => (layer.program = programs[i]));
      return;
    }
    structure = nextStructure;
    for (const { active } of layers) for (const voice of active) voice.fade(blockFrame);
    leaving = [...leaving, ...layers].filter(isSounding);
    layers = programs.map((program) => ({
      program,
      voices: Array.from({ length: POLYPHONY + SPARE_VOICES }, () => createVoice(sampleRateHz)),
      active: [],
    }));
    for (const note of held.values()) for (const layer of layers) startVoice(layer, note);
  }

  function startVoice({ voices, active }: LayerVoices, note: HeldNote): void {
    const held = active.filter((voice) => !voice.released);
    if (held.length >= POLYPHONY) held[0].fade(note.startFrame);
    // Without a free voice the one that began first, which has faded longest, is taken at once.
    const voice = voices.find((candidate) => !active.includes(candidate)) ?? active.shift()!;
    voice.start(note);
    active.push(voice);
  }

  function apply(event: EngineEvent): void {
    const frame = Math.max(event.frame, blockFrame);
    if (event.kind === 'noteOn') {
      const { noteId, midi, velocity } = event;
      const note = { noteId, midi, velocity, startFrame: frame, seed: seed * 65537 + noteCounter++ };
      held.set(noteId, note);
      for (const layer of layers) startVoice(layer, note);
      return;
    }
    for (const { active } of layers) {
      for (const voice of active) {
        if (event.kind === 'cutOff') voice.fade(frame);
        else if (event.kind === 'allOff' || voice.noteId === event.noteId) voice.release(frame);
      }
    }
    if (event.kind === 'noteOff') held.delete(event.noteId);
    else held.clear();
  }

  function renderBlock(): void {
    const end = blockFrame + CONTROL_SAMPLES;
    if (events.length > 0 && events[0].frame < end) {
      const due = events.filter((event) => event.frame < end);
      events = events.slice(due.length);
      due.forEach(apply);
    }
    blockL.fill(0);
    blockR.fill(0);
    for (let l = 0; l < layers.length; l++) renderLayer(layers[l]);
    if (leaving.length > 0) {
      leaving.forEach(renderLayer);
      leaving = leaving.filter(isSounding);
    }
    blockFrame = end;
    left = CONTROL_SAMPLES;
  }

  function renderLayer({ program, active }: LayerVoices): void {
    let kept = 0;
    for (let v = 0; v < active.length; v++) {
      const voice = active[v];
      voice.process(program, blockL, blockR, blockFrame);
      if (voice.sounding) active[kept++] = voice;
    }
    active.length = kept;
  }

  return {
    get frame() {
      return blockFrame - left;
    },
    get soundingVoices() {
      return layers.reduce((sum, { active }) => sum + active.length, 0);
    },
    setPatch,
    schedule(event) {
      const after = events.findIndex((other) => other.frame > event.frame);
      events = events.toSpliced(after < 0 ? events.length : after, 0, event);
    },
    clearSchedule() {
      events = [];
    },
    process(outL, outR, offset, frames) {
      for (let done = 0; done < frames;) {
        if (left === 0) renderBlock();
        const count = Math.min(left, frames - done);
        const from = CONTROL_SAMPLES - left;
        for (let i = 0; i < count; i++) {
          outL[offset + done + i] = blockL[from + i];
          outR[offset + done + i] = blockR[from + i];
        }
        left -= count;
        done += count;
      }
    },
  };
}

const isSounding = ({ active }: LayerVoices) => active.length > 0;

/** What must stay the same for voices to go on: modules and their kinds, and which tables they read. */
function structureOf({ layers }: Patch): string {
  return JSON.stringify(
    layers.map(({ sources, filter }) => [
      sources.map((source) => [
        source.id,
        source.kind,
        source.unisonVoices,
        source.kind === 'shape' ? source.shape : source.wavetableId,
      ]),
      filter.slopeDbPerOctave,
    ]),
  );
}
