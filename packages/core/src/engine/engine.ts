import { type Delay, createDelay } from '../dsp/halfband';
import { hzFromMidi } from '../dsp/pitch';
import type { ChainOwner } from '../patch/chains';
import type { Patch } from '../patch/schema';
import { createAgenda } from './agenda';
import { type DcBlock, createDcBlock } from './dcBlock';
import type { Surroundings } from './effects/effect';
import { type LayerChain, createLayerChain } from './layerChain';
import { type LayerProgram, compileLayer } from './program';
import { createGroups } from './groups';
import { createGuard } from './guard';
import { type HeldNote, createHeldNotes } from './heldNotes';
import type { PatchResources } from './resources';
import { BLOCK_SAMPLES } from './sources/source';
import { createSumChain } from './sumChain';
import { type Controls, DEFAULT_RELEASE_VELOCITY } from './modulation';
import { type Voice, createVoice } from './voice';

export const POLYPHONY = 32;
/** Voices beyond the polyphony, for those that are fading out to make room. */
const SPARE_VOICES = 8;

export type ControlName = keyof Controls;

/** A note event at an absolute frame of the engine's own clock. */
export type EngineEvent =
  | { kind: 'noteOn'; frame: number; noteId: number; midi: number; velocity: number }
  | { kind: 'noteOff'; frame: number; noteId: number; velocity?: number }
  /** Wheel and pressure 0..1, bend −1..1. */
  | { kind: 'control'; frame: number; control: ControlName; value: number }
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
  /** Samples by which the chains make everything late. */
  readonly latency: number;
  /** Levels in a chain, as `EffectChain.meters`; measured from the first time they are asked for. */
  metersOf(owner: ChainOwner): Float64Array | undefined;
  /** Events may come in any order, but must lie at or after `frame`; earlier ones happen at once. */
  schedule(event: EngineEvent): void;
  /** Forgets events that have not happened yet. */
  clearSchedule(): void;
  /** Takes over a changed patch. Voices go on when only values changed, and start over under a short fade when the structure did. */
  setPatch(patch: Patch, resources: PatchResources): void;
  /** Fills `frames` samples of both outputs from `offset` on. */
  process(left: Float32Array, right: Float32Array, offset: number, frames: number): void;
}

interface LayerVoices {
  id: string;
  groupId: string | null;
  program: LayerProgram;
  /** This block of its voices, which other layers' effects may listen to; the right side is the left one while it stands in the middle. */
  sides: readonly [left: Float64Array, right: Float64Array];
  /** Whether there is anything in them. */
  heard: boolean;
  voices: Voice[];
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

/** The chain of a layer whose structure has changed is heard for so long yet. */
const LEAVING_SECONDS = 0.5;

/** Time constant of wheel, pressure and bend, against steps. */
const CONTROL_SMOOTHING_SECONDS = 0.004;

export function createEngine(
  options: { sampleRateHz: number; seed?: number },
  initialPatch: Patch,
  initialResources: PatchResources,
): Engine {
  const { sampleRateHz, seed = 1 } = options;
  const blockL = new Float64Array(BLOCK_SAMPLES);
  const blockR = new Float64Array(BLOCK_SAMPLES);
  const layerL = new Float64Array(BLOCK_SAMPLES);
  const layerR = new Float64Array(BLOCK_SAMPLES);
  const controls: Controls = { wheel: 0, pressure: 0, bend: 0 };
  const controlTargets: Controls = { wheel: 0, pressure: 0, bend: 0 };
  const smoothing = 1 - Math.exp(-BLOCK_SAMPLES / sampleRateHz / CONTROL_SMOOTHING_SECONDS);
  const guard = createGuard(sampleRateHz, BLOCK_SAMPLES);
  /** Samples of the current block that the host has not asked for yet. */
  let left = 0;
  /** Clock at the start of the next block. */
  let blockFrame = 0;
  let noteCounter = 0;
  const events = createAgenda<EngineEvent>();
  const held = createHeldNotes();
  let layers: LayerVoices[] = [];
  let leaving: LayerVoices[] = [];
  let structure = '';
  const groups = createGroups(sampleRateHz);
  const patchChain = createSumChain(sampleRateHz);
  let layerLatency = 0;
  /** Whether the chains hold other things than before from the next block on, and where the output stood before it. */
  let joining = false;
  const last = { left: 0, right: 0 };

  /** What effects may hear. */
  const around: Surroundings = {
    noteHz: 0,
    layer(id) {
      for (let l = 0; l < layers.length; l++) {
        if (layers[l].id === id) return layers[l].heard ? layers[l].sides : undefined;
      }
      return undefined;
    },
  };

  setPatch(initialPatch, initialResources);

  function setPatch(patch: Patch, resources: PatchResources): void {
    const programs = patch.layers.map((layer) => compileLayer(patch, layer, resources));
    const otherGroups = groups.set(patch, resources);
    const otherChain = patchChain.set(patch, patch.effects, resources);
    if (otherGroups || otherChain) joining = blockFrame > 0;
    const nextStructure = structureOf(patch, programs);
    if (nextStructure === structure) {
      layers.forEach((layer, i) => (layer.program = programs[i]));
      return;
    }
    structure = nextStructure;
    for (const { active } of layers) for (const voice of active) voice.fade(blockFrame);
    const left = layers.map((layer) => ({
      ...layer,
      sides: [layer.sides[0].slice(), layer.sides[1].slice()] as const,
      active: [...layer.active, ...layer.cut],
      cut: [],
    }));
    leaving = [...leaving, ...left].filter(isSounding);
    const chains = programs.map((program) =>
      program.effects.length > 0 ? createLayerChain(sampleRateHz, program) : undefined,
    );
    layerLatency = Math.max(...chains.map((chain) => chain?.latency ?? 0));
    layers = programs.map((program, l) => ({
      id: patch.layers[l].id,
      groupId: patch.layers[l].groupId,
      program,
      sides: [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)] as const,
      heard: false,
      chain: chains[l],
      delays: delaysOf(layerLatency - (chains[l]?.latency ?? 0)),
      leftGain: 1,
      voices: Array.from({ length: POLYPHONY + SPARE_VOICES }, () => createVoice(sampleRateHz, program)),
      active: [],
      cut: [],
      dcBlocks: program.makesDc ? [createDcBlock(sampleRateHz), createDcBlock(sampleRateHz)] : [],
      lastMidi: undefined,
    }));
    for (let n = 0; n < held.count; n++) {
      for (const layer of layers) startVoice(layer, held.at(n), blockFrame);
    }
  }

  function startVoice(layer: LayerVoices, note: HeldNote, frame: number): void {
    const { voices, active, cut, program } = layer;
    const { mode, glide, polyphony } = program.voice;
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
    // The held ones that began first make room; a layer of one voice takes the released ones away, too.
    let over = mode === 'poly' ? holding - polyphony + 1 : active.length;
    for (let v = 0; v < active.length && over > 0; v++) {
      if (mode === 'poly' && active[v].released) continue;
      active[v].fade(frame);
      over--;
    }
    const voice = freeVoice(voices, active, cut);
    voice.start(note, glideFrom);
    active.push(voice);
  }

  /** Lets a note go. A layer with one voice goes back to the note that is still held, if there is one. */
  function endNote(layer: LayerVoices, noteId: number, frame: number, velocity: number): void {
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

  function apply(event: EngineEvent): void {
    const frame = Math.max(event.frame, blockFrame);
    switch (event.kind) {
      case 'noteOn': {
        const note = held.add(event.noteId);
        note.midi = event.midi;
        around.noteHz = hzFromMidi(event.midi);
        note.velocity = event.velocity;
        note.startFrame = frame;
        note.index = noteCounter++;
        note.seed = seed * 65537 + note.index;
        for (let l = 0; l < layers.length; l++) startVoice(layers[l], note, frame);
        break;
      }
      case 'noteOff':
        held.remove(event.noteId);
        for (let l = 0; l < layers.length; l++) {
          endNote(layers[l], event.noteId, frame, event.velocity ?? DEFAULT_RELEASE_VELOCITY);
        }
        break;
      case 'control':
        controlTargets[event.control] = event.value;
        break;
      default:
        for (const { active } of layers) {
          for (const voice of active) {
            if (event.kind === 'cutOff') voice.fade(frame);
            else voice.release(frame, DEFAULT_RELEASE_VELOCITY);
          }
        }
        held.clear();
        if (event.kind === 'cutOff') cutOff();
    }
  }

  /** Lets the events of the next block happen. */
  function applyDue(): void {
    for (;;) {
      const event = events.takeBefore(blockFrame + BLOCK_SAMPLES);
      if (!event) return;
      apply(event);
    }
  }

  function moveControls(): void {
    controls.wheel += smoothing * (controlTargets.wheel - controls.wheel);
    controls.pressure += smoothing * (controlTargets.pressure - controls.pressure);
    controls.bend += smoothing * (controlTargets.bend - controls.bend);
  }

  function renderBlock(): void {
    applyDue();
    moveControls();
    blockL.fill(0);
    blockR.fill(0);
    groups.begin();
    for (let l = 0; l < layers.length; l++) renderVoices(layers[l]);
    for (let l = 0; l < layers.length; l++) renderChain(layers[l]);
    if (leaving.length > 0) {
      for (const layer of leaving) {
        renderVoices(layer);
        renderChain(layer);
        layer.leftGain -= BLOCK_SAMPLES / sampleRateHz / LEAVING_SECONDS;
      }
      leaving = leaving.filter(isSounding);
    }
    groups.addTo(blockL, blockR, around);
    patchChain.run(blockL, blockR, around);
    for (let l = 0; l < layers.length; l++) if (layers[l].cut.length > 0) renderCut(layers[l]);
    if (joining) joinOutput();
    joining = false;
    last.left = blockL[BLOCK_SAMPLES - 1];
    last.right = blockR[BLOCK_SAMPLES - 1];
    guard.run(blockL, blockR);
    blockFrame += BLOCK_SAMPLES;
    left = BLOCK_SAMPLES;
  }

  /** Takes the voices out of the chains, for their short fade, and clears those. */
  function cutOff(): void {
    for (const layer of layers) {
      for (const voice of layer.active) layer.cut.push(voice);
      layer.active.length = 0;
    }
    clearChains();
    joining = true;
  }

  /** Adds what is fading out beside the chains. */
  function renderCut({ program, cut }: LayerVoices): void {
    layerL.fill(0);
    layerR.fill(0);
    keepSounding(program, cut, layerL, layerR);
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      blockL[i] += layerL[i];
      blockR[i] += layerR[i];
    }
  }

  /** Renders voices and leaves those in the list that go on. */
  function keepSounding(program: LayerProgram, voices: Voice[], left: Float64Array, right: Float64Array): void {
    let kept = 0;
    for (let v = 0; v < voices.length; v++) {
      const voice = voices[v];
      voice.process(program, controls, left, right, blockFrame);
      if (voice.sounding) voices[kept++] = voice;
    }
    voices.length = kept;
  }

  /** Forgets what the chains hold: the voices that are being cut off go past them. */
  function clearChains(): void {
    for (const layer of layers) {
      layer.chain?.clear();
      for (const delay of layer.delays) delay.clear();
    }
    groups.clear();
    patchChain.clear();
    leaving = [];
  }

  /** Leads from where the output stood to where it goes on, so that what is taken away at once makes no click. */
  function joinOutput(): void {
    const offL = last.left - blockL[0];
    const offR = last.right - blockR[0];
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      const share = 1 - i / BLOCK_SAMPLES;
      blockL[i] += share * offL;
      blockR[i] += share * offR;
    }
  }

  /** Renders the voices of a layer into its block. */
  function renderVoices(layer: LayerVoices): void {
    const { program, active, dcBlocks } = layer;
    const [left, right] = layer.sides;
    layer.heard = active.length > 0 || !areSilent(dcBlocks);
    if (!layer.heard) return;
    const { centred } = program;
    left.fill(0);
    if (!centred) right.fill(0);
    keepSounding(program, active, left, centred ? left : right);
    if (dcBlocks.length > 0) {
      dcBlocks[0].run(left);
      if (!centred) dcBlocks[1].run(right);
    }
    if (centred) right.set(left);
  }

  /** Puts the block of a layer through its chain and adds it to the output. */
  function renderChain({ program, groupId, chain, delays, leftGain, sides, heard }: LayerVoices): void {
    if (!heard && (!chain || chain.silent)) return;
    if (heard) {
      layerL.set(sides[0]);
      layerR.set(sides[1]);
    } else {
      layerL.fill(0);
      layerR.fill(0);
    }
    chain?.run(program, controls, layerL, layerR, blockFrame, around);
    if (delays.length > 0) {
      delays[0].run(layerL, 0, BLOCK_SAMPLES);
      delays[1].run(layerR, 0, BLOCK_SAMPLES);
    }
    const gainStep = leftGain < 1 ? 1 / sampleRateHz / LEAVING_SECONDS : 0;
    const group = groups.sidesOf(groupId);
    const outL = group ? group[0] : blockL;
    const outR = group ? group[1] : blockR;
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      const gain = Math.max(0, leftGain - i * gainStep);
      outL[i] += gain * layerL[i];
      outR[i] += gain * layerR[i];
    }
  }

  return {
    get frame() {
      return blockFrame - left;
    },
    get soundingVoices() {
      return layers.reduce((sum, { active, cut }) => sum + active.length + cut.length, 0);
    },
    get latency() {
      return layerLatency + groups.latency + patchChain.latency;
    },
    metersOf(owner) {
      const chain =
        owner.of === 'patch'
          ? patchChain.chain
          : owner.of === 'group'
            ? groups.chainOf(owner.id)
            : layers.find(({ id }) => id === owner.id)?.chain?.effects;
      if (!chain) return undefined;
      chain.metered = true;
      return chain.meters;
    },
    setPatch,
    schedule: events.add,
    clearSchedule: events.clear,
    process(outL, outR, offset, frames) {
      for (let done = 0; done < frames;) {
        if (left === 0) renderBlock();
        const count = Math.min(left, frames - done);
        const from = BLOCK_SAMPLES - left;
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

/** A voice that is not sounding; without one the first that began, which has faded longest, is taken at once. */
function freeVoice(voices: readonly Voice[], active: Voice[], cut: Voice[]): Voice {
  for (let v = 0; v < voices.length; v++) if (!active.includes(voices[v]) && !cut.includes(voices[v])) return voices[v];
  return (cut.shift() ?? active.shift())!;
}

function areSilent(blocks: readonly DcBlock[]): boolean {
  for (let i = 0; i < blocks.length; i++) if (!blocks[i].silent) return false;
  return true;
}

const isSounding = ({ active, chain, leftGain }: LayerVoices) =>
  active.length > 0 || (chain !== undefined && !chain.silent && leftGain > 0);

/** A delay for each side, where there is anything to wait for. */
const delaysOf = (samples: number) =>
  samples > 0 ? [createDelay(samples, BLOCK_SAMPLES), createDelay(samples, BLOCK_SAMPLES)] : [];

/** What must stay the same for voices to go on: modules and their kinds, what they read and how they are joined. */
function structureOf({ layers, macros }: Patch, programs: readonly LayerProgram[]): string {
  return JSON.stringify([
    layers.map(
      ({ id, groupId, sources, interactions, filters, filterOrder, shaper, modulators, routes, effects, voice }, l) => [
        id,
        groupId,
        sources.map((source) => [
          source.id,
          source.kind,
          source.on,
          source.into,
          'unisonVoices' in source && source.unisonVoices,
          'shape' in source && source.shape,
          'phaseShape' in source && source.phaseShape,
          'wavetableId' in source && source.wavetableId,
          'sampleId' in source && source.sampleId,
        ]),
        interactions.map(({ id, kind, on, to, ...other }) => [id, kind, on, to, 'from' in other && other.from]),
        filters.map(({ id, kind }) => [id, kind]),
        filterOrder,
        shaper.on,
        modulators.map(({ id, kind }) => [id, kind]),
        routes.map(({ id, on, from, to }) => [id, on, from, to]),
        effects.map(({ id, kind }) => [id, kind]),
        voice.mode,
        programs[l].stereo,
        programs[l].centred,
        programs[l].makesDc,
      ],
    ),
    macros.map(({ id }) => id),
  ]);
}
