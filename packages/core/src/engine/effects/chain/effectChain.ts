import { gainFromDecibels } from '../../../dsp/decibels';
import { createDelay } from '../../../dsp/halfband';
import { kernel } from '../../../dsp/kernel/kernel';
import { kernelSides } from '../../../dsp/kernel/sides';
import type { Effect } from '../../../patch/schema';
import { type DcBlock, createDcBlock } from '../../output/dcBlock';
import { BLOCK_SAMPLES } from '../../sources/source';
import { type EffectModel, type EffectProgram, type EffectState, type Surroundings, Ramp } from './effect';
import { modelOf } from '../index';

/** Effects one after the other. */
export interface EffectChain {
  /** Samples by which what comes out is late; the same whatever is switched off. */
  readonly latency: number;
  /** Nothing sounds in it any more, and nothing comes in: it can be left out. */
  readonly silent: boolean;
  /** Puts a block of both channels through, in place. */
  run(
    programs: readonly EffectProgram[],
    values: Float64Array,
    left: Float64Array,
    right: Float64Array,
    around: Surroundings,
  ): void;
  /** Forgets everything. */
  clear(): void;
  /** Has levels measured from now on, METER values of each effect in turn. */
  readonly meters: Float64Array;
  metered: boolean;
}

/**
 * What is measured of an effect: mean squares and peaks that fall slowly, of what goes in and comes out, and
 * what it takes off, dB.
 */
export const meter = { powerIn: 0, powerOut: 1, peakIn: 2, peakOut: 3, reductionDb: 4 } as const;
export const METER = 5;
/** Mean squares are over about so long; peaks fall by half in that time. */
const METER_SECONDS = 0.4;

/** An effect that is switched goes in or out over this time. */
const SWITCH_SECONDS = 0.01;
/** Under this a signal is silence. */
const SILENT = 1e-7;

interface Place {
  state: EffectState;
  model: EffectModel;
  /** What takes constants away from either side, once any are left. */
  dcBlocks: DcBlock[];
  leavesDc: boolean;
  delays: ReturnType<typeof createDelay>[];
  /**
   * Share of the wet signal at the end of the last block, which a switch brings to 0; NaN before the first.
   */
  share: number;
  /** Gain behind it; 1 while it is off. */
  output: Ramp;
  cleared: boolean;
}

/** @param effects whose kinds all programs of this chain will have */
export function createEffectChain(sampleRateHz: number, effects: readonly Effect[]): EffectChain {
  const dryL = new Float64Array(BLOCK_SAMPLES);
  const dryR = new Float64Array(BLOCK_SAMPLES);
  const silentL = new Float64Array(BLOCK_SAMPLES);
  const silentR = new Float64Array(BLOCK_SAMPLES);
  const places = effects.map(({ kind }): Place => {
    const model = modelOf(kind);
    const state = model.create(sampleRateHz);
    return {
      state,
      model,
      dcBlocks: [0, 1].map(() => createDcBlock(sampleRateHz)),
      leavesDc: false,
      delays: state.latency > 0 ? [0, 1].map(() => createDelay(state.latency, BLOCK_SAMPLES)) : [],
      share: NaN,
      output: new Ramp(),
      cleared: true,
    };
  });
  const mostStep = BLOCK_SAMPLES / sampleRateHz / SWITCH_SECONDS;
  /**
   * Samples since anything was heard, at the beginning or at the end, and for how many something may still be
   * inside.
   */
  let quietSamples = Infinity;
  let hidden = 0;
  /** Whether it has run since it was cleared. */
  let awoken = false;

  function runPlace(
    place: Place,
    program: EffectProgram,
    values: Float64Array,
    left: Float64Array,
    right: Float64Array,
    around: Surroundings,
  ): void {
    const { state, delays, dcBlocks } = place;
    const full = place.model.mixesItself ? 1 : values[program.slots.mix] / 100;
    const wanted = program.spec.on ? full : 0;
    const now = Number.isNaN(place.share) ? wanted : place.share;
    const next = now + Math.max(-mostStep, Math.min(mostStep, wanted - now));
    place.share = next;
    dryL.set(left);
    dryR.set(right);
    if (delays.length > 0) {
      delays[0].run(dryL, 0, BLOCK_SAMPLES);
      delays[1].run(dryR, 0, BLOCK_SAMPLES);
    }
    if (now === 0 && next === 0 && !program.spec.on) {
      // What was left inside when it went out is not to come back with it.
      if (!place.cleared) clearPlace(place);
      place.cleared = true;
      left.set(dryL);
      right.set(dryR);
      return;
    }
    place.cleared = false;
    state.run(program, values, left, right, around);
    // Once they run they go on: what they hold is not to be lost at once.
    place.leavesDc ||= place.model.leavesDc?.(program.spec) ?? false;
    if (place.leavesDc) {
      dcBlocks[0].run(left);
      dcBlocks[1].run(right);
    }
    const { onlyAdded } = program;
    if (now !== 1 || next !== 1 || onlyAdded) {
      kernelSides.left.set(left);
      kernelSides.right.set(right);
      kernelSides.dryLeft.set(dryL);
      kernelSides.dryRight.set(dryR);
      kernel.mixSides(
        BLOCK_SAMPLES,
        now,
        (next - now) / BLOCK_SAMPLES,
        onlyAdded ? 0 : 1,
        onlyAdded && place.model.standsApart ? 0 : 1,
      );
      left.set(kernelSides.left);
      right.set(kernelSides.right);
    }
    const slot = place.model.levelsItself ? undefined : program.slots.outputDb;
    if (slot === undefined) return;
    const { output } = place;
    output.to(program.spec.on ? gainFromDecibels(values[slot]) : 1, BLOCK_SAMPLES);
    output.amplify(left, right);
  }

  /**
   * Numbers may have been changed while the chain slept: one block of silence brings everything that moves
   * from block to block to where it should be, so that what sounds next does not begin with a way from the
   * old values.
   */
  function settle(programs: readonly EffectProgram[], values: Float64Array, around: Surroundings): void {
    for (let p = 0; p < places.length; p++) {
      places[p].share = NaN;
      silentL.fill(0);
      silentR.fill(0);
      runPlace(places[p], programs[p], values, silentL, silentR, around);
    }
  }

  const meters = new Float64Array(METER * places.length);
  const smoothing = 1 - Math.exp(-BLOCK_SAMPLES / sampleRateHz / METER_SECONDS);

  function measure(at: number, power: 0 | 1, left: Float64Array, right: Float64Array): void {
    let sum = 0;
    let peak = 0;
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      sum += left[i] * left[i] + right[i] * right[i];
      peak = Math.max(peak, Math.abs(left[i]), Math.abs(right[i]));
    }
    meters[at + power] += smoothing * (sum / (2 * BLOCK_SAMPLES) - meters[at + power]);
    const peaks = at + meter.peakIn + power;
    meters[peaks] = Math.max(peak, meters[peaks] * (1 - smoothing));
  }

  const chain: EffectChain = {
    metered: false,
    meters,
    latency: places.reduce((sum, { state }) => sum + state.latency, 0),
    get silent() {
      return quietSamples > hidden;
    },
    run(programs, values, left, right, around) {
      const heard = isHeard(left) || isHeard(right);
      if (heard && awoken && quietSamples > hidden) settle(programs, values, around);
      awoken = true;
      if (!heard && quietSamples > hidden) {
        meters.fill(0);
        return;
      }
      hidden = 0;
      for (let p = 0; p < places.length; p++) {
        if (chain.metered) measure(METER * p, meter.powerIn, left, right);
        runPlace(places[p], programs[p], values, left, right, around);
        if (chain.metered) {
          measure(METER * p, meter.powerOut, left, right);
          meters[METER * p + meter.reductionDb] = programs[p].spec.on ? (places[p].state.reductionDb?.() ?? 0) : 0;
        }
        hidden += places[p].state.hiddenSamples(programs[p], values) + places[p].state.latency;
      }
      quietSamples = heard || isHeard(left) || isHeard(right) ? 0 : quietSamples + BLOCK_SAMPLES;
    },
    clear() {
      for (const place of places) {
        clearPlace(place);
        place.output.clear();
        for (const line of place.delays) line.clear();
      }
      quietSamples = Infinity;
      awoken = false;
    },
  };
  return chain;
}

/** Has an effect forget everything. */
function clearPlace(place: Place): void {
  place.state.clear();
  place.leavesDc = false;
  for (const block of place.dcBlocks) block.clear();
}

function isHeard(signal: Float64Array): boolean {
  for (let i = 0; i < signal.length; i++) if (signal[i] > SILENT || signal[i] < -SILENT) return true;
  return false;
}
