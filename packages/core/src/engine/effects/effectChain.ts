import { createDelay } from '../../dsp/halfband';
import type { Effect } from '../../patch/schema';
import { BLOCK_SAMPLES } from '../sources/source';
import type { EffectProgram, EffectState, Surroundings } from './effect';
import { effectModels } from './index';

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
  /** What the effect at a place takes off, dB; 0 for one that does not turn down. */
  reductionDb(index: number): number;
}

/** An effect that is switched goes in or out over this time. */
const SWITCH_SECONDS = 0.01;
/** Under this a signal is silence. */
const SILENT = 1e-7;

interface Place {
  state: EffectState;
  mixesItself: boolean;
  delays: ReturnType<typeof createDelay>[];
  /** Share of the wet signal at the end of the last block, which a switch brings to 0; NaN before the first. */
  share: number;
  cleared: boolean;
}

/** @param effects whose kinds all programs of this chain will have */
export function createEffectChain(sampleRateHz: number, effects: readonly Effect[]): EffectChain {
  const dryL = new Float64Array(BLOCK_SAMPLES);
  const dryR = new Float64Array(BLOCK_SAMPLES);
  const places = effects.map(({ kind }): Place => {
    const model = effectModels[kind];
    const state = model.create(sampleRateHz);
    return {
      state,
      mixesItself: model.mixesItself ?? false,
      delays: state.latency > 0 ? [0, 1].map(() => createDelay(state.latency, BLOCK_SAMPLES)) : [],
      share: NaN,
      cleared: true,
    };
  });
  const mostStep = BLOCK_SAMPLES / sampleRateHz / SWITCH_SECONDS;
  /** Samples since anything was heard, at the beginning or at the end, and for how many something may still be inside. */
  let quietSamples = Infinity;
  let hidden = 0;

  function runPlace(
    place: Place,
    program: EffectProgram,
    values: Float64Array,
    left: Float64Array,
    right: Float64Array,
    around: Surroundings,
  ): void {
    const { state, delays } = place;
    const full = place.mixesItself ? 1 : values[program.slots.mix] / 100;
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
      if (!place.cleared) state.clear();
      place.cleared = true;
      left.set(dryL);
      right.set(dryR);
      return;
    }
    place.cleared = false;
    state.run(program, values, left, right, around);
    if (now === 1 && next === 1) return;
    const step = (next - now) / BLOCK_SAMPLES;
    for (let i = 0; i < BLOCK_SAMPLES; i++) {
      const wet = now + (i + 1) * step;
      left[i] = dryL[i] + wet * (left[i] - dryL[i]);
      right[i] = dryR[i] + wet * (right[i] - dryR[i]);
    }
  }

  return {
    latency: places.reduce((sum, { state }) => sum + state.latency, 0),
    get silent() {
      return quietSamples > hidden;
    },
    run(programs, values, left, right, around) {
      const heard = isHeard(left) || isHeard(right);
      if (!heard && quietSamples > hidden) return;
      hidden = 0;
      for (let p = 0; p < places.length; p++) {
        runPlace(places[p], programs[p], values, left, right, around);
        hidden += places[p].state.hiddenSamples(programs[p], values) + places[p].state.latency;
      }
      quietSamples = heard || isHeard(left) || isHeard(right) ? 0 : quietSamples + BLOCK_SAMPLES;
    },
    clear() {
      for (const { state, delays } of places) {
        state.clear();
        for (const line of delays) line.clear();
      }
      quietSamples = Infinity;
    },
    reductionDb: (index) => places[index].state.reductionDb?.() ?? 0,
  };
}

function isHeard(signal: Float64Array): boolean {
  for (let i = 0; i < signal.length; i++) if (signal[i] > SILENT || signal[i] < -SILENT) return true;
  return false;
}
