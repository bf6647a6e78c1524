import { gainFromDecibels } from '../dsp/decibels';
import { hzFromMidi, ratioFromSemitones } from '../dsp/pitch';
import { levelFor } from './bandlimitedTable';
import { contourValue } from './contour';
import { envelopeValue } from '../patch/envelopeCurve';
import { createLowpassState, integratorGain, runLowpass, stageCount, stageDamping } from './lowpass';
import type { LayerProgram, SourceProgram } from './program';
import { hashedRandom } from './random';
import { addTable } from './readTable';

/** Samples between two evaluations of the modulators; values run in straight lines between them. */
export const CONTROL_SAMPLES = 32;

/** A voice whose amp contour is this far down has ended. */
const ENDED = 1e-5;
/** How fast a voice goes that is taken away for another one. */
const STEAL_SECONDS = 0.005;

export interface NoteStart {
  noteId: number;
  /** Note number; fractions are fine tuning. */
  midi: number;
  /** 1..127; 100 plays at the patch's own level. */
  velocity: number;
  startFrame: number;
  seed: number;
}

/** One sounding note of one layer. Made once, started many times; allocates nothing while it sounds. */
export interface Voice {
  readonly noteId: number;
  readonly startFrame: number;
  readonly sounding: boolean;
  readonly released: boolean;
  start(note: NoteStart): void;
  release(frame: number): void;
  /** Fades out at once, to make room or to leave a patch. */
  fade(frame: number): void;
  /** Adds the samples `from..CONTROL_SAMPLES` of the block that begins at `blockFrame` to left and right. */
  process(program: LayerProgram, left: Float64Array, right: Float64Array, blockFrame: number): void;
}

interface SourceState {
  phases: Float64Array;
  increments: Float64Array;
  level: number;
  gain: number;
  shape: number;
}

/** Pitches stop under the Nyquist frequency. */
const MAX_INCREMENT = 0.49;
const MAX_SOURCES = 16;
const MAX_UNISON = 16;
const MAX_SLOTS = 3 * MAX_SOURCES + 2;

export function createVoice(sampleRateHz: number): Voice {
  const states = Array.from({ length: MAX_SOURCES }, (): SourceState => ({
    phases: new Float64Array(MAX_UNISON),
    increments: new Float64Array(MAX_UNISON),
    level: 0,
    gain: 0,
    shape: 0,
  }));
  const values = new Float64Array(MAX_SLOTS);
  const bufferL = new Float64Array(CONTROL_SAMPLES);
  const bufferR = new Float64Array(CONTROL_SAMPLES);
  const filterL = [createLowpassState(), createLowpassState()];
  const filterR = [createLowpassState(), createLowpassState()];
  let noteId = -1;
  let midi = 69;
  let velocityGain = 1;
  let startFrame = 0;
  let releaseFrame = Infinity;
  let fadeFrame = Infinity;
  let seed = 0;
  let sounding = false;
  /** True until the first block of a note has set the values that later blocks ramp from. */
  let fresh = true;
  let lastAmp = 0;
  let lastG = 0;
  let lastResonance = 1;

  /** Resting values plus everything that is routed to them, at a time since note-on. */
  function evaluate({ slots, routes, modulators }: LayerProgram, seconds: number, releasedAt: number): void {
    values.fill(0, 0, slots.length);
    for (const { modulator, slot, amount } of routes) {
      const source = modulators[modulator];
      const value =
        source.kind === 'envelope'
          ? envelopeValue(source.program, seconds, releasedAt)
          : contourValue(source.program, seconds);
      values[slot] += amount * value;
    }
    for (let i = 0; i < slots.length; i++) {
      const { base, min, max, semitones } = slots[i];
      const moved = semitones ? base * ratioFromSemitones(values[i]) : base + values[i];
      values[i] = Math.min(max, Math.max(min, moved));
    }
  }

  const ampAt = (program: LayerProgram, seconds: number, releasedAt: number) => {
    const fading = Math.max(0, 1 - (startFrame / sampleRateHz + seconds - fadeFrame / sampleRateHz) / STEAL_SECONDS);
    return envelopeValue(program.amp, seconds, releasedAt) * velocityGain * program.gain * Math.min(1, fading);
  };

  /** Cycles per sample of a source's middle, before unison detune. */
  const incrementOf = (source: SourceProgram) =>
    hzFromMidi(midi + source.pitchOffsetSemitones + values[source.pitchSlot]) / sampleRateHz;

  const cutoffGain = ({ filter }: LayerProgram) =>
    integratorGain(values[filter.cutoffSlot] * ratioFromSemitones(filter.keyTracking * (midi - 60)), sampleRateHz);

  /** Sets what the first block ramps from. */
  function begin(program: LayerProgram): void {
    evaluate(program, 0, Infinity);
    program.sources.forEach((source, s) => {
      const state = states[s];
      const middle = incrementOf(source);
      source.unison.forEach(({ ratio }, u) => {
        state.phases[u] =
          source.unison.length === 1
            ? source.startPhaseCycles
            : (source.startPhaseCycles + hashedRandom(seed, s, u)) % 1;
        state.increments[u] = Math.min(MAX_INCREMENT, middle * ratio);
      });
      state.level = levelFor(source.table, middle * source.highestRatio);
      state.gain = gainFromDecibels(values[source.levelSlot]);
      state.shape = values[source.shapeSlot];
    });
    for (const state of [...filterL, ...filterR]) state.ic1 = state.ic2 = 0;
    lastAmp = 0;
    lastG = cutoffGain(program);
    lastResonance = gainFromDecibels(values[program.filter.resonanceSlot]);
    fresh = false;
  }

  /** Adds one frame position of a source, cross-fading between two copies when its pitch crosses a band limit. */
  function addFrame(
    source: SourceProgram,
    output: Float64Array,
    from: number,
    levels: { old: number; next: number },
    frame: number,
    phase: number,
    increment: number,
    incrementStep: number,
    gain: number,
    gainStep: number,
  ): void {
    const { table } = source;
    if (levels.old === levels.next) {
      addTable(
        output,
        from,
        CONTROL_SAMPLES,
        table.levels[levels.next],
        frame,
        phase,
        increment,
        incrementStep,
        gain,
        gainStep,
      );
      return;
    }
    const count = CONTROL_SAMPLES - from;
    const end = gain + gainStep * count;
    addTable(
      output,
      from,
      CONTROL_SAMPLES,
      table.levels[levels.old],
      frame,
      phase,
      increment,
      incrementStep,
      gain,
      -gain / count,
    );
    addTable(
      output,
      from,
      CONTROL_SAMPLES,
      table.levels[levels.next],
      frame,
      phase,
      increment,
      incrementStep,
      0,
      end / count,
    );
  }

  const levels = { old: 0, next: 0 };

  function addSource(program: LayerProgram, index: number, from: number): void {
    const source = program.sources[index];
    const state = states[index];
    const count = CONTROL_SAMPLES - from;
    const nextGain = source.on ? gainFromDecibels(values[source.levelSlot]) : 0;
    const nextShape = values[source.shapeSlot];
    const middle = incrementOf(source);
    levels.old = state.level;
    levels.next = levelFor(source.table, middle * source.highestRatio);

    for (let u = 0; u < source.unison.length; u++) {
      const voice = source.unison[u];
      const increment = state.increments[u];
      const nextIncrement = Math.min(MAX_INCREMENT, middle * voice.ratio);
      const incrementStep = (nextIncrement - increment) / count;
      if (state.gain > 0 || nextGain > 0) {
        for (let side = 0; side < (program.stereo ? 2 : 1); side++) {
          const output = side === 0 ? bufferL : bufferR;
          const pan = side === 0 ? voice.left : voice.right;
          const gain = state.gain * pan;
          const gainStep = ((nextGain - state.gain) * pan) / count;
          const phase = state.phases[u];
          if (source.pulse) {
            addFrame(source, output, from, levels, 0, phase, increment, incrementStep, gain, gainStep);
            // The width moves the second saw: its phase starts at the old width and arrives at the new one.
            const width = state.shape / 100;
            const widthStep = (nextShape / 100 - width) / count;
            addFrame(
              source,
              output,
              from,
              levels,
              0,
              (phase + width) % 1,
              increment + widthStep,
              incrementStep,
              -gain,
              -gainStep,
            );
          } else if (source.table.frameCount === 1) {
            addFrame(source, output, from, levels, 0, phase, increment, incrementStep, gain, gainStep);
          } else {
            addMorph(source, state, output, from, nextShape, phase, increment, incrementStep, gain, gainStep);
          }
        }
      }
      state.phases[u] = (state.phases[u] + increment * count + (incrementStep * count * (count - 1)) / 2) % 1;
      state.increments[u] = nextIncrement;
    }
    state.level = levels.next;
    state.gain = nextGain;
    state.shape = nextShape;
  }

  /** The two frames around the table position, each at its share. */
  function addMorph(
    source: SourceProgram,
    state: SourceState,
    output: Float64Array,
    from: number,
    nextShape: number,
    phase: number,
    increment: number,
    incrementStep: number,
    gain: number,
    gainStep: number,
  ): void {
    const last = source.table.frameCount - 1;
    const count = CONTROL_SAMPLES - from;
    const position = (state.shape / 100) * last;
    const next = (nextShape / 100) * last;
    const endGain = gain + gainStep * count;
    const first = Math.floor(Math.min(position, next));
    const final = Math.min(last, Math.ceil(Math.max(position, next)));
    for (let frame = first; frame <= final; frame++) {
      const share = Math.max(0, 1 - Math.abs(position - frame));
      const nextShare = Math.max(0, 1 - Math.abs(next - frame));
      if (share === 0 && nextShare === 0) continue;
      addFrame(
        source,
        output,
        from,
        levels,
        frame,
        phase,
        increment,
        incrementStep,
        gain * share,
        (endGain * nextShare - gain * share) / count,
      );
    }
  }

  function runFilter(program: LayerProgram, from: number): void {
    const { filter } = program;
    const count = CONTROL_SAMPLES - from;
    const g = cutoffGain(program);
    const resonance = gainFromDecibels(values[filter.resonanceSlot]);
    if (filter.on) {
      for (let stage = 0; stage < stageCount(filter.slope); stage++) {
        const k = stageDamping(filter.slope, stage, lastResonance);
        const kStep = (stageDamping(filter.slope, stage, resonance) - k) / count;
        runLowpass(filterL[stage], bufferL, from, CONTROL_SAMPLES, lastG, (g - lastG) / count, k, kStep);
        if (program.stereo)
          runLowpass(filterR[stage], bufferR, from, CONTROL_SAMPLES, lastG, (g - lastG) / count, k, kStep);
      }
    }
    lastG = g;
    lastResonance = resonance;
  }

  return {
    get noteId() {
      return noteId;
    },
    get startFrame() {
      return startFrame;
    },
    get sounding() {
      return sounding;
    },
    get released() {
      return releaseFrame !== Infinity || fadeFrame !== Infinity;
    },
    start(note) {
      ({ noteId, midi, startFrame, seed } = note);
      // General MIDI's recommended curve, 40·log10(v/127) dB, moved so that velocity 100 is 0 dB.
      velocityGain = (note.velocity / 100) ** 2;
      releaseFrame = Infinity;
      fadeFrame = Infinity;
      sounding = true;
      fresh = true;
    },
    release(frame) {
      releaseFrame = Math.min(releaseFrame, Math.max(frame, startFrame));
    },
    fade(frame) {
      fadeFrame = Math.min(fadeFrame, frame);
    },
    process(program, left, right, blockFrame) {
      const from = Math.max(0, startFrame - blockFrame);
      if (fresh) begin(program);
      const seconds = (blockFrame + CONTROL_SAMPLES - startFrame) / sampleRateHz;
      const releasedAt = (releaseFrame - startFrame) / sampleRateHz;
      evaluate(program, seconds, releasedAt);

      bufferL.fill(0);
      if (program.stereo) bufferR.fill(0);
      for (let s = 0; s < program.sources.length; s++) addSource(program, s, from);
      runFilter(program, from);

      const amp = ampAt(program, seconds, releasedAt);
      const ampStep = (amp - lastAmp) / (CONTROL_SAMPLES - from);
      const outR = program.stereo ? bufferR : bufferL;
      for (let i = from, gain = lastAmp; i < CONTROL_SAMPLES; i++) {
        gain += ampStep;
        left[i] += gain * bufferL[i];
        right[i] += gain * outR[i];
      }
      lastAmp = amp;

      const faded = blockFrame >= fadeFrame && amp === 0;
      const decayed = seconds > Math.min(releasedAt, program.amp.decayStartSeconds);
      const contour = envelopeValue(program.amp, seconds, releasedAt);
      if (faded || (decayed && contour < ENDED && amp < ENDED)) sounding = false;
    },
  };
}
