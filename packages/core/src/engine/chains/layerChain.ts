import { type EffectChain, createEffectChain } from '../effects/chain/effectChain';
import type { Surroundings } from '../effects/chain/effect';
import type { HeldNote } from '../voice/heldNotes';
import { type Controls, createModulation, createNote } from '../voice/modulation';
import type { LayerProgram } from '../program/program';
import { BLOCK_SAMPLES } from '../sources/source';

/**
 * The chain of a layer. It is run once, on the sum of the voices, since echoes and rooms go on after their
 * note, and compressors hear all of them; so its parameters can follow one note only: the one that began
 * last.
 */
export interface LayerChain extends Pick<EffectChain, 'latency' | 'silent' | 'clear'> {
  readonly effects: EffectChain;
  begin(note: HeldNote, frame: number): void;
  release(frame: number, velocity: number): void;
  run(
    program: LayerProgram,
    controls: Controls,
    left: Float64Array,
    right: Float64Array,
    blockFrame: number,
    around: Surroundings,
  ): void;
}

/** @param shape a program of the structure that all programs of this chain will have */
export function createLayerChain(sampleRateHz: number, shape: LayerProgram): LayerChain {
  const chain = createEffectChain(
    sampleRateHz,
    shape.effects.map(({ spec }) => spec),
  );
  const modulation = createModulation(shape);
  const note = createNote();
  const frames = { start: 0, release: Infinity };
  let known: LayerProgram | undefined;
  let begins = true;

  return {
    latency: chain.latency,
    get silent() {
      return chain.silent;
    },
    clear: chain.clear,
    effects: chain,
    begin(started, frame) {
      note.midi = started.midi;
      note.velocity = started.velocity;
      note.seed = started.seed;
      note.index = started.index;
      frames.start = frame;
      frames.release = Infinity;
      begins = true;
    },
    release(frame, velocity) {
      note.releaseVelocity = velocity;
      frames.release = frame;
    },
    run(program, controls, left, right, blockFrame, around) {
      if (begins) modulation.start(program, note, controls, frames.start / sampleRateHz);
      else if (program !== known) modulation.adopt(program, note, controls);
      begins = false;
      known = program;
      note.seconds = Math.max(0, (blockFrame + BLOCK_SAMPLES - frames.start) / sampleRateHz);
      note.releasedAt = (frames.release - frames.start) / sampleRateHz;
      modulation.advance(program, note, controls);
      chain.run(program.effects, modulation.values, left, right, around);
    },
  };
}
