import { hzFromMidi } from '../dsp/pitch';
import type { ChainOwner } from '../patch/edits/chains';
import type { Patch } from '../patch/schema';
import { createAgenda } from './agenda';
import type { Surroundings } from './effects/chain/effect';
import type { EffectChain } from './effects/chain/effectChain';
import { createLayerChain } from './chains/layerChain';
import {
  type LayerVoices,
  createLayerVoices,
  endNote,
  isSounding,
  keepSounding,
  leftLayer,
  renderVoices,
  startVoice,
} from './voice/layerVoices';
import { createOutputJoin } from './chains/outputJoin';
import { compileLayer } from './program/program';
import { createGroups } from './chains/groups';
import { createGuard } from './output/guard';
import { createHeldNotes } from './voice/heldNotes';
import type { PatchResources } from './program/resources';
import { BLOCK_SAMPLES } from './sources/source';
import { structureOf } from './program/structure';
import { createSumChain } from './chains/sumChain';
import { type Controls, DEFAULT_RELEASE_VELOCITY } from './voice/modulation';

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
 * The block engine: the same code live, offline and in a match. Its blocks are aligned to its own clock, so
 * the samples do not depend on how the host cuts them.
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
  /**
   * Takes over a changed patch. Voices go on when only values changed, and start over under a short fade when
   * the structure did.
   */
  setPatch(patch: Patch, resources: PatchResources): void;
  /** Fills `frames` samples of both outputs from `offset` on. */
  process(left: Float32Array, right: Float32Array, offset: number, frames: number): void;
}

/** The chain of a layer whose structure has changed is heard for so long yet. */
const LEAVING_SECONDS = 0.5;

/** Time constant of wheel, pressure and bend, against steps. */
const CONTROL_SMOOTHING_SECONDS = 0.004;

/**
 * @param options.isLive whether it is heard while it plays, the default: then all that it may need is made
 *   at the start
 */
export function createEngine(
  options: { sampleRateHz: number; seed?: number; isLive?: boolean },
  initialPatch: Patch,
  initialResources: PatchResources,
): Engine {
  const { sampleRateHz, seed = 1, isLive = true } = options;
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
  const join = createOutputJoin();

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
    if ((otherGroups || otherChain) && blockFrame > 0) join.begin();
    const nextStructure = structureOf(patch, programs);
    if (nextStructure === structure) {
      layers.forEach((layer, i) => (layer.program = programs[i]));
      return;
    }
    structure = nextStructure;
    for (const { active } of layers) for (const voice of active) voice.fade(blockFrame);
    leaving = [...leaving, ...layers.map(leftLayer)].filter(isSounding);
    const chains = programs.map((program) =>
      program.effects.length > 0 ? createLayerChain(sampleRateHz, program) : undefined,
    );
    layerLatency = Math.max(...chains.map((chain) => chain?.latency ?? 0));
    layers = programs.map((program, l) =>
      createLayerVoices(sampleRateHz, patch.layers[l], program, chains[l], layerLatency, isLive),
    );
    for (let n = 0; n < held.count; n++) {
      for (const layer of layers) startVoice(layer, held.at(n), blockFrame);
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
          endNote(layers[l], held, event.noteId, frame, event.velocity ?? DEFAULT_RELEASE_VELOCITY);
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
    for (let l = 0; l < layers.length; l++) renderVoices(layers[l], controls, blockFrame);
    for (let l = 0; l < layers.length; l++) renderChain(layers[l]);
    if (leaving.length > 0) {
      for (const layer of leaving) {
        renderVoices(layer, controls, blockFrame);
        renderChain(layer);
        layer.leftGain -= BLOCK_SAMPLES / sampleRateHz / LEAVING_SECONDS;
      }
      leaving = leaving.filter(isSounding);
    }
    groups.addTo(blockL, blockR, around);
    patchChain.run(blockL, blockR, around);
    for (let l = 0; l < layers.length; l++) if (layers[l].cut.length > 0) renderCut(layers[l]);
    join.run(blockL, blockR);
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
    join.begin();
  }

  /** Adds what is fading out beside the chains. */
  function renderCut({ program, cut }: LayerVoices): void {
    layerL.fill(0);
    layerR.fill(0);
    keepSounding(program, cut, controls, layerL, layerR, blockFrame);
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      blockL[i] += layerL[i];
      blockR[i] += layerR[i];
    }
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

  function chainOf(owner: ChainOwner): EffectChain | undefined {
    if (owner.of === 'patch') return patchChain.chain;
    if (owner.of === 'group') return groups.chainOf(owner.id);
    for (let l = 0; l < layers.length; l++) if (layers[l].id === owner.id) return layers[l].chain?.effects;
    return undefined;
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
      const chain = chainOf(owner);
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
