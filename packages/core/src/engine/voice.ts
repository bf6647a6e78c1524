import { gainFromDecibels } from '../dsp/decibels';
import { hzFromMidi, ratioFromSemitones } from '../dsp/pitch';
import { levelFor } from './bandlimitedTable';
import { contourValue } from './contour';
import { envelopeValue } from '../patch/envelopeCurve';
import { createLowpassState, integratorGain, runLowpass, stageCount, stageDamping } from './lowpass';
import type { LayerProgram, SourceProgram } from './program';
import { hashedRandom } from './random';
import { type OscillatorBank, addTable, advanceBank } from './readTable';

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
  bank: OscillatorBank;
  /** Copy of the table at the start and at the end of the block. */
  level: number;
  nextLevel: number;
  gain: number;
  /** Pulse width or table position, 0..100. */
  shape: number;
}

/** Pitches stop under the Nyquist frequency. */
const MAX_INCREMENT = 0.49;
const MAX_SOURCES = 16;
const MAX_UNISON = 16;
const MAX_SLOTS = 3 * MAX_SOURCES + 2;

export function createVoice(sampleRateHz: number): Voice {
  const states = Array.from({ length: MAX_SOURCES }, (): SourceState => ({
    bank: {
      count: 0,
      phases: new Float64Array(MAX_UNISON),
      increments: new Float64Array(MAX_UNISON),
      nextIncrements: new Float64Array(MAX_UNISON),
    },
    level: 0,
    nextLevel: 0,
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
  /** Where the values of the last block ended. Fields of an object, since a captured variable is boxed anew at each write. */
  const last = { amp: 0, g: 0, resonance: 1 };

  /** Resting values plus everything that is routed to them, at a time since note-on. */
  function evaluate({ slots, routes, modulators }: LayerProgram, seconds: number, releasedAt: number): void {
    values.fill(0, 0, slots.length);
    for (let r = 0; r < routes.length; r++) {
      const { modulator, slot, amount } = routes[r];
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

  const cutoffGain = ({ filter }: LayerProgram) =>
    integratorGain(values[filter.cutoffSlot] * ratioFromSemitones(filter.keyTracking * (midi - 60)), sampleRateHz);

  /** Sets what the first block ramps from. */
  function begin(program: LayerProgram): void {
    evaluate(program, 0, Infinity);
    program.sources.forEach((source, s) => {
      const state = states[s];
      tune(source, state);
      const single = source.ratios.length === 1;
      for (let u = 0; u < source.ratios.length; u++) {
        const phase = source.startPhaseCycles + (single ? 0 : hashedRandom(seed, s, u));
        state.bank.phases[u] = phase - Math.floor(phase);
        state.bank.increments[u] = state.bank.nextIncrements[u];
      }
      state.level = state.nextLevel;
      state.gain = gainFromDecibels(values[source.levelSlot]);
      state.shape = values[source.shapeSlot];
    });
    for (const state of [...filterL, ...filterR]) state.ic1 = state.ic2 = 0;
    last.amp = 0;
    last.g = cutoffGain(program);
    last.resonance = gainFromDecibels(values[program.filter.resonanceSlot]);
    fresh = false;
  }

  /** Reads one frame of a source's table, cross-fading between two copies when its pitch crosses a band limit. */
  function addFrame(
    { table }: SourceProgram,
    { bank, level, nextLevel }: SourceState,
    output: Float64Array,
    from: number,
    frame: number,
    pans: Float64Array,
    gain: number,
    nextGain: number,
    shift = 0,
    nextShift = 0,
  ): void {
    const next = table.levels[nextLevel];
    if (level === nextLevel) {
      addTable(output, from, CONTROL_SAMPLES, next, frame, bank, pans, gain, nextGain, shift, nextShift);
      return;
    }
    addTable(output, from, CONTROL_SAMPLES, table.levels[level], frame, bank, pans, gain, 0, shift, nextShift);
    addTable(output, from, CONTROL_SAMPLES, next, frame, bank, pans, 0, nextGain, shift, nextShift);
  }

  function addSource(program: LayerProgram, index: number, from: number): void {
    const source = program.sources[index];
    const state = states[index];
    const nextGain = source.on ? gainFromDecibels(values[source.levelSlot]) : 0;
    const nextShape = values[source.shapeSlot];
    tune(source, state);
    if (state.gain > 0 || nextGain > 0) {
      addSide(source, state, bufferL, from, source.left, nextGain, nextShape);
      if (program.stereo) addSide(source, state, bufferR, from, source.right, nextGain, nextShape);
    }
    advanceBank(state.bank, CONTROL_SAMPLES - from);
    state.level = state.nextLevel;
    state.gain = nextGain;
    state.shape = nextShape;
  }

  /** Works out where the pitches of a source arrive at the end of the block. */
  function tune(source: SourceProgram, state: SourceState): void {
    const middle = hzFromMidi(midi + source.pitchOffsetSemitones + values[source.pitchSlot]) / sampleRateHz;
    state.bank.count = source.ratios.length;
    for (let u = 0; u < source.ratios.length; u++) {
      state.bank.nextIncrements[u] = Math.min(MAX_INCREMENT, middle * source.ratios[u]);
    }
    state.nextLevel = levelFor(source.table, middle * source.highestRatio);
  }

  function addSide(
    source: SourceProgram,
    state: SourceState,
    output: Float64Array,
    from: number,
    pans: Float64Array,
    nextGain: number,
    nextShape: number,
  ): void {
    if (source.pulse) {
      addFrame(source, state, output, from, 0, pans, state.gain, nextGain);
      // The second saw, upside down, is a pulse width behind.
      addFrame(source, state, output, from, 0, pans, -state.gain, -nextGain, state.shape / 100, nextShape / 100);
      return;
    }
    const last = source.table.frameCount - 1;
    const position = (state.shape / 100) * last;
    const nextPosition = (nextShape / 100) * last;
    const final = Math.min(last, Math.ceil(Math.max(position, nextPosition)));
    // The two frames around the position, each at its share; more of them when the position moves fast.
    for (let frame = Math.floor(Math.min(position, nextPosition)); frame <= final; frame++) {
      const share = Math.max(0, 1 - Math.abs(position - frame));
      const nextShare = Math.max(0, 1 - Math.abs(nextPosition - frame));
      if (share === 0 && nextShare === 0) continue;
      addFrame(source, state, output, from, frame, pans, state.gain * share, nextGain * nextShare);
    }
  }

  function runFilter(program: LayerProgram, from: number): void {
    const { filter } = program;
    const count = CONTROL_SAMPLES - from;
    const g = cutoffGain(program);
    const resonance = gainFromDecibels(values[filter.resonanceSlot]);
    if (filter.on) {
      for (let stage = 0; stage < stageCount(filter.slope); stage++) {
        const k = stageDamping(filter.slope, stage, last.resonance);
        const kStep = (stageDamping(filter.slope, stage, resonance) - k) / count;
        runLowpass(filterL[stage], bufferL, from, CONTROL_SAMPLES, last.g, (g - last.g) / count, k, kStep);
        if (program.stereo)
          runLowpass(filterR[stage], bufferR, from, CONTROL_SAMPLES, last.g, (g - last.g) / count, k, kStep);
      }
    }
    last.g = g;
    last.resonance = resonance;
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
      const ampStep = (amp - last.amp) / (CONTROL_SAMPLES - from);
      const outR = program.stereo ? bufferR : bufferL;
      for (let i = from, gain = last.amp; i < CONTROL_SAMPLES; i++) {
        gain += ampStep;
        left[i] += gain * bufferL[i];
        right[i] += gain * outR[i];
      }
      last.amp = amp;

      const faded = blockFrame >= fadeFrame && amp === 0;
      const decayed = seconds > Math.min(releasedAt, program.amp.decayStartSeconds);
      const contour = envelopeValue(program.amp, seconds, releasedAt);
      if (faded || (decayed && contour < ENDED && amp < ENDED)) sounding = false;
    },
  };
}
