import { DECIMATOR_LATENCY, OVERSAMPLING, createDecimator, createDelay } from '../../dsp/halfband';
import { ratioFromSemitones } from '../../dsp/pitch';
import { MAX_COEFFICIENTS } from '../filters/filter';
import { filterModels } from '../filters';
import { MakeUp, powerOf } from './makeUp';
import { INTO, type LayerFilter, type LayerProgram } from '../program/program';
import { SHAPER_LATENCY, createShaperChannel } from '../shaping/shaper';
import { type SourceState, createSourceState, renderSource, startSource } from '../sources';
import { applyRing, ringToneHz } from '../sources/interaction';
import { BLOCK_SAMPLES, type SourceContext } from '../sources/source';
import { renderFine } from '../sources/fineTonal';
import { tuneMiddle } from '../sources/tuning';

/** Share of the sampling rate under which sidebands must stay for FM to run at the plain rate. */
const PLAIN_BAND = 0.45;
/**
 * Sidebands beyond the index that still count: J_n(β) is under −60 dB from n = β + 6 on for indices up to 10.
 */
const EXTRA_SIDEBANDS = 6;
const MAX_FM_DEPTH = 4;
const DESTINATIONS = 4;
/** What a filter takes away is told by the mean over so long. */
const MAKE_UP_SECONDS = 0.25;

const buffers = (count: number, length: number) => Array.from({ length: count }, () => new Float64Array(length));

// Voices take turns, so they share what they only need within a block.
const plainL = buffers(DESTINATIONS, BLOCK_SAMPLES);
const plainR = buffers(DESTINATIONS, BLOCK_SAMPLES);
const fineL = buffers(DESTINATIONS, OVERSAMPLING * BLOCK_SAMPLES);
const fineR = buffers(DESTINATIONS, OVERSAMPLING * BLOCK_SAMPLES);
const scratchL = new Float64Array(BLOCK_SAMPLES);
const scratchR = new Float64Array(BLOCK_SAMPLES);
const dryL = new Float64Array(BLOCK_SAMPLES);
const dryR = new Float64Array(BLOCK_SAMPLES);
const steps = new Float64Array(MAX_COEFFICIENTS);
const noSteps = new Float64Array(MAX_COEFFICIENTS);

/**
 * Result of the chain that ran last; the same array twice for a layer in the middle is the caller's to know.
 */
export const chainOutput = { left: plainL[0], right: plainR[0] } as const;

const has = (bits: number, into: number) => (bits & (1 << into)) !== 0;

/**
 * Sources, filters and shaper of one note. Sources go to four destinations: the first filter, the second,
 * both, or past them. Those whose phase is shaped or modulated run at four times the rate together, unless
 * their sidebands stay under the Nyquist frequency; everything else is then delayed by as much as coming down
 * again takes, and the chain is run ahead by that when the note starts.
 */
export interface Chain {
  /** Sets what the first block ramps from, and runs ahead by what the chain delays. */
  begin(program: LayerProgram): void;
  /** Leaves the samples of the block that the context names in `chainOutput`. */
  render(program: LayerProgram): void;
}

/**
 * @param shape a program of the structure that all programs of this chain will have
 * @param context of the note; its values are read, its outputs set
 */
export function createChain(sampleRateHz: number, shape: LayerProgram, context: SourceContext): Chain {
  const states = shape.sources.map(createSourceState);
  const filters = shape.filters.map((filter) => createFilterState(filter, sampleRateHz));
  const shapers = shape.shaper.on ? [0, 1].map(() => createShaperChannel()) : [];
  const delayPair = (samples: number) => [createDelay(samples, BLOCK_SAMPLES), createDelay(samples, BLOCK_SAMPLES)];
  const besideShaper = shape.shaper.on
    ? { second: delayPair(SHAPER_LATENCY), past: delayPair(SHAPER_LATENCY) }
    : undefined;
  const destinations = Array.from({ length: DESTINATIONS }, (_, into) => ({
    decimators: has(shape.fineInto, into) ? [createDecimator(), createDecimator()] : [],
    delays: shape.fine.length > 0 && has(shape.plainInto, into) ? delayPair(DECIMATOR_LATENCY) : [],
  }));
  const { values } = context;
  /** All that has to forget the note before. */
  const memories: readonly { clear(): void }[] = [
    ...filters.flatMap(({ channels }) => channels),
    ...shapers,
    ...(besideShaper ? [...besideShaper.second, ...besideShaper.past] : []),
    ...destinations.flatMap(({ decimators, delays }) => [...decimators, ...delays]),
  ];

  function clear(): void {
    for (let i = 0; i < memories.length; i++) memories[i].clear();
  }

  /**
   * Whether all sidebands of the fine sources stay under the Nyquist frequency, so that they need no higher
   * rate.
   */
  function fitsPlainRate(program: LayerProgram): boolean {
    const { midi } = context;
    let highest = 0;
    context.midi += program.rise;
    for (let i = 0; i < program.fine.length; i++) {
      highest = Math.max(highest, bandwidthHz(program, program.fine[i], 0));
    }
    context.midi = midi;
    return highest <= PLAIN_BAND * sampleRateHz;
  }

  /**
   * Highest frequency of a source by Carson's rule, taken along its modulators; infinite when it is more than
   * sines.
   */
  function bandwidthHz(program: LayerProgram, index: number, depth: number): number {
    const source = program.sources[index];
    const state = states[index];
    if (source.kind !== 'tonal' || state.kind !== 'tonal' || !source.pureSine || depth > MAX_FM_DEPTH) return Infinity;
    tuneMiddle(source.tuning, source.slots, context, state.tuning);
    let hz = state.tuning.hz * state.unison.highestRatio;
    for (let c = 0; c < source.incoming.length; c++) {
      const connection = source.incoming[c];
      if (connection.kind === 'ringTone') hz += ringToneHz(connection, context);
      else {
        const sidebands = connection.kind === 'fm' ? connection.highestIndex + EXTRA_SIDEBANDS : 1;
        hz += sidebands * bandwidthHz(program, connection.from, depth + 1);
      }
    }
    return hz;
  }

  /** Fills the four destinations with what the sources put there. */
  function renderSources(program: LayerProgram): void {
    const { from, to, rate } = context;
    const { sources, plain, fine, late, stereo, plainInto, fineInto } = program;
    for (let into = 0; into < DESTINATIONS; into++) {
      // The first destination is where everything ends up.
      if (into === INTO.first || has(plainInto | fineInto, into)) {
        plainL[into].fill(0, from, to);
        if (stereo) plainR[into].fill(0, from, to);
      }
      if (rate > 1 && has(fineInto, into)) {
        fineL[into].fill(0, rate * from, rate * to);
        if (stereo) fineR[into].fill(0, rate * from, rate * to);
      }
    }
    for (let s = 0; s < plain.length; s++) {
      const { into } = sources[plain[s]];
      context.left = plainL[into];
      context.right = stereo ? plainR[into] : plainL[into];
      renderSource(sources[plain[s]], states[plain[s]], context);
    }
    for (let s = 0; s < fine.length; s++) {
      const source = sources[fine[s]];
      const state = states[fine[s]];
      if (source.kind !== 'tonal' || state.kind !== 'tonal') continue;
      context.left = (rate > 1 ? fineL : plainL)[source.into];
      context.right = stereo ? (rate > 1 ? fineR : plainR)[source.into] : context.left;
      renderFine(source, state, states, context);
    }
    for (let s = 0; s < late.length; s++) renderLate(program, late[s]);
    if (rate > 1) joinRates(program);
  }

  /** Noise and samples that are ring modulated, once what modulates them is there. */
  function renderLate({ sources, stereo }: LayerProgram, index: number): void {
    const source = sources[index];
    const state: SourceState = states[index];
    scratchL.fill(0);
    scratchR.fill(0);
    const right = stereo ? scratchR : scratchL;
    context.left = scratchL;
    context.right = right;
    renderSource(source, state, context);
    applyRing(source.incoming, state.interaction, states, context);
    addTo(plainL[source.into], scratchL, context);
    if (stereo) addTo(plainR[source.into], scratchR, context);
  }

  /** Brings the fine sources down and holds the others back by what that takes. */
  function joinRates({ stereo, plainInto, fineInto }: LayerProgram): void {
    const { from, to } = context;
    for (let into = 0; into < DESTINATIONS; into++) {
      const { delays, decimators } = destinations[into];
      for (let c = 0; c < (stereo ? 2 : 1); c++) {
        const plain = c === 0 ? plainL[into] : plainR[into];
        if (has(plainInto, into)) delays[c].run(plain, from, to);
        if (has(fineInto, into)) decimators[c].add(c === 0 ? fineL[into] : fineR[into], plain, from, to);
      }
    }
  }

  function tuneFilter(filter: LayerFilter, index: number): void {
    const state = filters[index];
    const tracking = values[filter.keyTrackingSlot] / 100;
    if (filter.cutoffSlot >= 0) {
      state.pitch.cutoffHz = values[filter.cutoffSlot] * ratioFromSemitones(tracking * (context.midi - 60));
    }
    state.model.tune(filter, values, state.pitch, state.next);
    state.nextMix = values[filter.mixSlot] / 100;
    state.tuned = filter;
    state.tunedMidi = tracking === 0 ? NaN : context.midi;
  }

  /** Whether a filter can be left as it was tuned: nothing moves it, and it is still the same. */
  const isAtRest = (filter: LayerFilter, { tuned, tunedMidi }: (typeof filters)[number]) =>
    !filter.moves && tuned === filter && (Number.isNaN(tunedMidi) || tunedMidi === context.midi);

  function runFilter(filter: LayerFilter, index: number, left: Float64Array, right: Float64Array): void {
    if (!filter.on) return;
    const { from, to } = context;
    const state = filters[index];
    const { now, next, channels } = state;
    const count = to - from;
    let moving = false;
    if (!isAtRest(filter, state)) {
      tuneFilter(filter, index);
      for (let c = 0; c < MAX_COEFFICIENTS; c++) {
        steps[c] = (next[c] - now[c]) / count;
        if (steps[c] !== 0) moving = true;
      }
    }
    const mixed = state.mix < 1 || state.nextMix < 1;
    const sides = left === right ? 1 : 2;
    const { makeUp } = state;
    const levelIn = makeUp ? powerOf(left, from, to) + (sides === 2 ? powerOf(right, from, to) : 0) : 0;
    for (let c = 0; c < sides; c++) {
      const signal = c === 0 ? left : right;
      if (mixed) (c === 0 ? dryL : dryR).set(signal);
      channels[c].run(filter, signal, from, to, now, moving ? steps : noSteps, moving);
    }
    if (makeUp && 'makeUp' in filter.spec && filter.spec.makeUp) {
      const levelOut = powerOf(left, from, to) + (sides === 2 ? powerOf(right, from, to) : 0);
      makeUp.follow(levelIn, levelOut, count / sampleRateHz);
      for (let c = 0; c < sides; c++) makeUp.apply(c === 0 ? left : right, from, to);
    }
    for (let c = 0; c < (mixed ? sides : 0); c++) {
      const signal = c === 0 ? left : right;
      const dry = c === 0 ? dryL : dryR;
      const step = (state.nextMix - state.mix) / count;
      for (let i = from, mix = state.mix + step; i < to; i++, mix += step) {
        signal[i] = dry[i] + mix * (signal[i] - dry[i]);
      }
    }
    if (moving) now.set(next);
    state.mix = state.nextMix;
  }

  function render(program: LayerProgram): void {
    renderSources(program);
    const { from, to } = context;
    const { stereo, shaper, parallel } = program;
    const into = program.plainInto | program.fineInto;
    const first = plainL[0];
    const second = plainL[1];
    const both = plainL[2];
    const past = plainL[3];
    const firstR = stereo ? plainR[0] : first;
    const secondR = stereo ? plainR[1] : second;
    const pastR = stereo ? plainR[3] : past;
    const intoBoth = has(into, INTO.both);
    const intoSecond = intoBoth || has(into, INTO.second);
    const intoPast = has(into, INTO.past);
    if (intoBoth) {
      if (!has(into, INTO.second)) {
        second.fill(0, from, to);
        if (stereo) secondR.fill(0, from, to);
      }
      addTo(first, both, context);
      addTo(second, both, context);
      if (stereo) addTo(firstR, plainR[2], context);
      if (stereo) addTo(secondR, plainR[2], context);
    }
    runFilter(program.filters[0], 0, first, firstR);
    if (besideShaper && shaper.on) {
      for (let c = 0; c < (stereo ? 2 : 1); c++) {
        shapers[c].run(shaper, values, c === 0 ? first : firstR, from, to);
        if (intoSecond) besideShaper.second[c].run(c === 0 ? second : secondR, from, to);
        if (intoPast) besideShaper.past[c].run(c === 0 ? past : pastR, from, to);
      }
    }
    if (parallel && intoSecond) runFilter(program.filters[1], 1, second, secondR);
    if (intoSecond) {
      addTo(first, second, context);
      if (stereo) addTo(firstR, secondR, context);
    }
    if (!parallel) runFilter(program.filters[1], 1, first, firstR);
    if (intoPast) {
      addTo(first, past, context);
      if (stereo) addTo(firstR, pastR, context);
    }
  }

  return {
    begin(program) {
      context.left = plainL[0];
      context.right = program.stereo ? plainR[0] : plainL[0];
      for (let s = 0; s < states.length; s++) startSource(program.sources[s], states[s], s, context);
      clear();
      for (let f = 0; f < filters.length; f++) {
        tuneFilter(program.filters[f], f);
        filters[f].now.set(filters[f].next);
        filters[f].mix = filters[f].nextMix;
        filters[f].makeUp?.clear();
      }
      context.rate = program.fine.length > 0 && !fitsPlainRate(program) ? OVERSAMPLING : 1;
      let ahead = context.rate > 1 ? program.latency.fine : program.latency.plain;
      context.to = BLOCK_SAMPLES;
      for (; ahead > 0; ahead -= BLOCK_SAMPLES) {
        context.from = Math.max(0, BLOCK_SAMPLES - ahead);
        render(program);
      }
    },
    render,
  };
}

function createFilterState({ spec }: LayerFilter, sampleRateHz: number) {
  const model = filterModels[spec.kind];
  return {
    model,
    channels: [model.createChannel(sampleRateHz), model.createChannel(sampleRateHz)],
    /** Coefficients and wet share at the start and at the end of the block. */
    now: new Float64Array(MAX_COEFFICIENTS),
    next: new Float64Array(MAX_COEFFICIENTS),
    mix: 1,
    nextMix: 1,
    /** Of those that can lift what they leave to what they were given. */
    makeUp: 'makeUp' in spec ? new MakeUp(MAKE_UP_SECONDS, false, false) : undefined,
    pitch: { cutoffHz: 0, sampleRateHz },
    /** What it was tuned for last; the key only when it tracks keys. */
    tuned: undefined as LayerFilter | undefined,
    tunedMidi: NaN,
  };
}

function addTo(sum: Float64Array, part: Float64Array, { from, to }: SourceContext): void {
  for (let i = from; i < to; i++) sum[i] += part[i];
}
