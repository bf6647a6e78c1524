import { hzFromMidi } from '../../dsp/pitch';
import { readSinc } from '../../dsp/sinc';
import { type PreparedSample, cutoffFor, octaveFor, prepareKernels } from '../program/preparedSample';
import {
  type Incoming,
  type InteractionState,
  type ModulatingState,
  createInteractionState,
  createModulatorOutput,
  spreadOutput,
  startInteraction,
} from './interaction';
import { BLOCK_SAMPLES, type LevelSlots, type SourceContext, type UnisonRoute, sourceGain } from './source';
import { type Tuning, type TuningMemo, type TuningSlots, createTuningMemo, tuneMiddle } from './tuning';
import { MAX_UNISON, type UnisonSlots, type UnisonState, createUnison, spreadUnison, startUnison } from './unison';

export interface SampleSlots extends TuningSlots, UnisonSlots, LevelSlots {
  rootMidi: number;
  startSeconds: number;
  loopStartSeconds: number;
  loopEndSeconds: number;
  crossfadeSeconds: number;
}

export interface SampleProgram {
  kind: 'sample';
  on: boolean;
  into: number;
  slots: SampleSlots;
  tuning: Tuning;
  sample: PreparedSample;
  loop: boolean;
  reverse: boolean;
  unisonVoices: number;
  unisonRoutes: readonly UnisonRoute[];
  /** Whether other sources listen to it, which do not hear its level. */
  modulates: boolean;
  incoming: readonly Incoming[];
}

export interface SampleState extends ModulatingState {
  kind: 'sample';
  interaction: InteractionState;
  /** The first channel of all voices at level 1, for what listens. */
  plain: Float64Array;
  unison: UnisonState;
  tuning: TuningMemo;
  /** Frames of the sample played so far, by unison voice. */
  played: Float64Array;
  /** Frames of the sample per output sample at the end of the last block. */
  speed: number;
  gain: number;
}

export function createSampleState(): SampleState {
  prepareKernels();
  return {
    kind: 'sample',
    unison: createUnison(),
    tuning: createTuningMemo(),
    played: new Float64Array(MAX_UNISON),
    speed: 0,
    gain: 0,
    interaction: createInteractionState(),
    plain: new Float64Array(BLOCK_SAMPLES),
    output: createModulatorOutput(),
  };
}

/** Frames of the sample that pass at every output sample. */
function speedOf({ tuning, slots, sample }: SampleProgram, state: SampleState, context: SourceContext): number {
  const rootHz = hzFromMidi(context.values[slots.rootMidi]);
  tuneMiddle(tuning, slots, context, state.tuning);
  return (state.tuning.hz / rootHz) * (sample.sampleRateHz / context.sampleRateHz);
}

export function startSample(program: SampleProgram, state: SampleState, context: SourceContext): void {
  startUnison(state.unison, program.unisonVoices, program.slots, program.unisonRoutes, context);
  state.played.fill(Math.round(context.values[program.slots.startSeconds] * program.sample.sampleRateHz));
  state.speed = speedOf(program, state, context);
  state.gain = sourceGain(program.on, program.slots, context.values);
  state.output.fill(0);
  startInteraction(program.incoming, state.interaction, context.values);
}

/**
 * Adds a block of a recorded sound, read at the pitch's speed; in a loop the end is cross-faded with what
 * leads up to its start.
 */
export function renderSample(program: SampleProgram, state: SampleState, context: SourceContext): void {
  const { values, left, right, from, to } = context;
  const { sample, slots, loop, reverse, unisonVoices } = program;
  spreadUnison(state.unison, unisonVoices, slots, program.unisonRoutes, context);
  const nextGain = sourceGain(program.on, slots, values);
  const nextSpeed = speedOf(program, state, context);
  const { unison, played } = state;
  const count = to - from;
  const [first] = sample.octaves[0];
  const length = first.length;
  const loopEnd = Math.min(length, Math.round(values[slots.loopEndSeconds] * sample.sampleRateHz));
  const loopStart = Math.min(loopEnd - 2, Math.round(values[slots.loopStartSeconds] * sample.sampleRateHz));
  const looping = loop && loopEnd - loopStart > 2;
  const fade = looping
    ? Math.min(loopStart, loopEnd - loopStart, Math.round(values[slots.crossfadeSeconds] * sample.sampleRateHz))
    : 0;
  const fastest = Math.max(state.speed, nextSpeed) * unison.highestRatio;
  const octave = octaveFor(sample, fastest);
  const scale = 2 ** -octave;
  const cutoff = cutoffFor(fastest * scale);
  const channels = sample.octaves[octave];
  const a = channels[0];
  const b = channels[channels.length - 1];
  const stereo = left !== right;
  const unit = 1 / Math.sqrt(unisonVoices);
  state.plain.fill(0, from, to);
  for (let u = 0; u < unisonVoices; u++) {
    let frame = played[u];
    let speed = state.speed * unison.ratios[u];
    const speedStep = ((nextSpeed - state.speed) * unison.ratios[u]) / count;
    let l = state.gain * unison.left.now[u];
    const lStep = (nextGain * unison.left.next[u] - l) / count;
    let r = state.gain * unison.right.now[u];
    const rStep = (nextGain * unison.right.next[u] - r) / count;
    for (let i = from; i < to; i++) {
      if (looping && frame >= loopEnd) frame = loopStart + ((frame - loopStart) % (loopEnd - loopStart));
      if (frame < length) {
        const into = fade > 0 ? (frame - (loopEnd - fade)) / fade : 0;
        const earlier = frame - (loopEnd - loopStart);
        const y = readFaded(a, frame, earlier, into, length, reverse, scale, cutoff);
        left[i] += l * y;
        state.plain[i] += unit * y;
        if (stereo) right[i] += r * readFaded(b, frame, earlier, into, length, reverse, scale, cutoff);
      }
      l += lStep;
      r += rStep;
      frame += speed;
      speed += speedStep;
    }
    played[u] = frame;
  }
  if (program.modulates) spreadOutput(state.output, state.plain, context);
  state.speed = nextSpeed;
  state.gain = nextGain;
}

/** Reads at `frame`, and past the beginning of a cross-fade also at `earlier`, at constant power. */
function readFaded(
  channel: Float64Array,
  frame: number,
  earlier: number,
  into: number,
  length: number,
  reverse: boolean,
  scale: number,
  cutoff: number,
): number {
  const place = reverse ? length - 1 - frame : frame;
  const y = readSinc(channel, place * scale, cutoff);
  if (into <= 0) return y;
  const angle = (Math.PI / 2) * Math.min(1, into);
  const other = reverse ? length - 1 - earlier : earlier;
  return Math.cos(angle) * y + Math.sin(angle) * readSinc(channel, other * scale, cutoff);
}
