import { gainFromDecibels } from '../../dsp/decibels';
import { chainOutput, createChain } from './notePath';
import type { HeldNote } from './heldNotes';
import { type Controls, DEFAULT_RELEASE_VELOCITY, createModulation, createNote } from './modulation';
import { AMP, type LayerProgram } from '../program/program';
import { BLOCK_SAMPLES, type SourceContext } from '../sources/source';

/** A voice whose amp contour is this far down has ended. */
const ENDED = 1e-5;
/** How fast a voice goes that is taken away for another one. */
const STEAL_SECONDS = 0.005;
/** Samples between two looks at the modulators, while any of them moves anything. */
const MOVING_STEP = 32;
/**
 * After a start, an end or a slide the steps are shorter, so that clicks and snaps of a millisecond come out
 * as drawn.
 */
const YOUNG_SECONDS = 0.06;
const YOUNG_STEP = 16;
/** One sounding note of one layer. Made once, started many times; allocates nothing while it sounds. */
export interface Voice {
  readonly noteId: number;
  readonly startFrame: number;
  readonly sounding: boolean;
  /** Its note is no longer held. */
  readonly released: boolean;
  /** It goes to make room. */
  readonly fading: boolean;
  /** Pitch at the end of the last block, without bend. */
  readonly midi: number;
  /** @param glideFrom pitch that it slides from; undefined for none */
  start(note: HeldNote, glideFrom: number | undefined): void;
  release(frame: number, velocity: number): void;
  /** Slides to another note without starting anew. */
  slideTo(noteId: number, midi: number, frame: number): void;
  /** Fades out at once, to make room or to leave a patch. */
  fade(frame: number): void;
  /**
   * Adds the block that begins at `blockFrame` to left and right; a centred layer passes the same array
   * twice.
   */
  process(program: LayerProgram, controls: Controls, left: Float64Array, right: Float64Array, blockFrame: number): void;
}

/** @param shape a program of the structure that all programs of this voice will have */
export function createVoice(sampleRateHz: number, shape: LayerProgram): Voice {
  const modulation = createModulation(shape);
  const { values } = modulation;
  const context: SourceContext = {
    sampleRateHz,
    values,
    midi: 60,
    detuneCents: 0,
    seed: 0,
    seconds: 0,
    from: 0,
    to: BLOCK_SAMPLES,
    rate: 1,
    left: chainOutput.left,
    right: chainOutput.left,
  };
  const chain = createChain(sampleRateHz, shape, context);
  const note = createNote();
  let noteId = -1;
  let startFrame = 0;
  let releaseFrame = Infinity;
  let fadeFrame = Infinity;
  let sounding = false;
  /** True until the first block of a note has set the values that later blocks ramp from. */
  let fresh = true;
  let known: LayerProgram | undefined;
  // Numbers that change at every block are fields, since a captured variable, and what goes in and out of
  // larger functions, is boxed anew each time.
  const last = { left: 0, right: 0, level: 0 };
  const memo = { levelDb: NaN, sensitivity: NaN, velocity: NaN, factor: 1 };
  const pitch = { midi: 60, from: 60, to: 60, startFrame: 0, startSeconds: 0 };

  function setPitch({ voice, layerSlots }: LayerProgram, controls: Controls): void {
    const { from, to, startSeconds } = pitch;
    const { seconds } = context;
    const { glideSeconds, glideCurve, glideBy, glideInSemitones, glideInSeconds, bendSemitones } = voice;
    const length = glideBy === 'octave' ? (glideSeconds * Math.abs(to - from)) / 12 : glideSeconds;
    const along = length > 0 ? Math.min(1, Math.max(0, (seconds - startSeconds) / length)) : 1;
    pitch.midi = along === 1 ? to : from + (to - from) * glideAlong(along, glideCurve / 100);
    const arrived = glideInSemitones === 0 || seconds >= glideInSeconds;
    const glideIn = arrived ? 0 : glideInSemitones * (1 - glideAlong(seconds / glideInSeconds, glideCurve / 100));
    context.midi = pitch.midi + glideIn + controls.bend * bendSemitones + values[layerSlots.semitones];
    context.detuneCents = values[layerSlots.detuneCents];
  }

  function begin(program: LayerProgram, controls: Controls): void {
    context.seed = note.seed;
    context.seconds = 0;
    modulation.start(program, note, controls, startFrame / sampleRateHz);
    setPitch(program, controls);
    chain.begin(program);
    last.left = last.right = 0;
    known = program;
    fresh = false;
  }

  /**
   * Sets the level of the note at the end of the step: contour, velocity, layer, and the fade of a voice that
   * has to go.
   */
  function setLevel({ gain, layerSlots }: LayerProgram, endFrame: number): void {
    const fading = Math.min(1, 1 - (endFrame - fadeFrame) / sampleRateHz / STEAL_SECONDS);
    const levelDb = values[layerSlots.levelDb];
    const sensitivity = values[layerSlots.velocitySensitivity];
    if (memo.levelDb !== levelDb || memo.sensitivity !== sensitivity || memo.velocity !== note.velocity) {
      memo.levelDb = levelDb;
      memo.sensitivity = sensitivity;
      memo.velocity = note.velocity;
      // General MIDI's recommended curve, 40·log10(v/127) dB, moved so that velocity 100 is 0 dB.
      memo.factor = (note.velocity / 100) ** (sensitivity / 50) * gainFromDecibels(levelDb);
    }
    last.level = modulation.levels[AMP] * memo.factor * gain * Math.max(0, fading);
  }

  /**
   * Adds the chain's output at the level that the step ends with; to one channel only when both are the same
   * array.
   */
  function addOutput({ stereo, layerSlots }: LayerProgram, left: Float64Array, right: Float64Array): void {
    const { level } = last;
    ramp.start = last.left;
    if (left === right) {
      ramp.end = last.left = last.right = level;
      addScaled(left, chainOutput.left, context);
      return;
    }
    const pan = values[layerSlots.pan];
    const angle = (Math.PI / 4) * (1 + pan / 100);
    ramp.end = last.left = pan === 0 ? level : level * Math.SQRT2 * Math.cos(angle);
    addScaled(left, chainOutput.left, context);
    ramp.start = last.right;
    ramp.end = last.right = pan === 0 ? level : level * Math.SQRT2 * Math.sin(angle);
    addScaled(right, stereo ? chainOutput.right : chainOutput.left, context);
  }

  /**
   * Renders the samples of the block from `context.from` to `context.to`, the block beginning at
   * `blockFrame`.
   */
  function step(
    program: LayerProgram,
    controls: Controls,
    left: Float64Array,
    right: Float64Array,
    blockFrame: number,
  ): void {
    const endFrame = blockFrame + context.to;
    context.seconds = note.seconds = (endFrame - startFrame) / sampleRateHz;
    note.releasedAt = (releaseFrame - startFrame) / sampleRateHz;
    modulation.advance(program, note, controls);
    setPitch(program, controls);
    chain.render(program);
    setLevel(program, endFrame);
    addOutput(program, left, right);

    const faded = blockFrame + context.from >= fadeFrame && last.level === 0;
    const { delaySeconds, decayStartSeconds, loop } = modulation.ampTimes(program);
    const decayed = note.seconds > note.releasedAt || (!loop && note.seconds > delaySeconds + decayStartSeconds);
    if (faded || (decayed && modulation.levels[AMP] < ENDED && last.level < ENDED)) sounding = false;
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
    get fading() {
      return fadeFrame !== Infinity;
    },
    get midi() {
      return pitch.midi;
    },
    start(started, glideFrom) {
      noteId = started.noteId;
      startFrame = started.startFrame;
      note.midi = started.midi;
      note.velocity = started.velocity;
      note.releaseVelocity = DEFAULT_RELEASE_VELOCITY;
      note.seed = started.seed;
      note.index = started.index;
      releaseFrame = Infinity;
      fadeFrame = Infinity;
      sounding = true;
      fresh = true;
      pitch.from = pitch.midi = glideFrom ?? started.midi;
      pitch.to = started.midi;
      pitch.startFrame = startFrame;
      pitch.startSeconds = 0;
    },
    release(frame, velocity) {
      if (releaseFrame === Infinity) note.releaseVelocity = velocity;
      releaseFrame = Math.min(releaseFrame, Math.max(frame, startFrame));
    },
    slideTo(nextId, midi, frame) {
      noteId = nextId;
      note.midi = midi;
      pitch.from = pitch.midi;
      pitch.to = midi;
      pitch.startFrame = frame;
      pitch.startSeconds = (frame - startFrame) / sampleRateHz;
    },
    fade(frame) {
      fadeFrame = Math.min(fadeFrame, frame);
    },
    process(program, controls, left, right, blockFrame) {
      if (fresh) begin(program, controls);
      else if (program !== known) {
        modulation.adopt(program, note, controls);
        known = program;
      }
      const since = blockFrame - Math.max(startFrame, pitch.startFrame);
      const sinceEnd = blockFrame - Math.min(releaseFrame, fadeFrame);
      const young = since < YOUNG_SECONDS * sampleRateHz;
      const ending = sinceEnd > -BLOCK_SAMPLES && sinceEnd < YOUNG_SECONDS * sampleRateHz;
      const length = young || ending ? YOUNG_STEP : program.moves ? MOVING_STEP : BLOCK_SAMPLES;
      const first = Math.max(0, startFrame - blockFrame);
      for (let from = first; from < BLOCK_SAMPLES && sounding; from += length) {
        context.from = from;
        context.to = Math.min(BLOCK_SAMPLES, from + length);
        step(program, controls, left, right, blockFrame);
      }
    },
  };
}

/** Gains at the start and at the end of what `addScaled` adds. */
const ramp = { start: 0, end: 0 };

/** Adds a signal at a gain that moves in a straight line. */
function addScaled(sum: Float64Array, signal: Float64Array, { from, to }: SourceContext): void {
  const step = (ramp.end - ramp.start) / (to - from);
  for (let i = from, gain = ramp.start + step; i < to; i++, gain += step) sum[i] += gain * signal[i];
}

const GLIDE_POWER = 4;

/** 0..1 to 0..1 along a glide: straight at curve 0, fast first over it, slow first under it. */
function glideAlong(x: number, curve: number): number {
  if (curve === 0) return x;
  return curve > 0 ? 1 - (1 - x) ** (GLIDE_POWER ** curve) : x ** (GLIDE_POWER ** -curve);
}
