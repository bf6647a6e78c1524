import { gainFromDecibels } from '../../dsp/decibels';
import { beatsOfDivision } from '../../parameters/division';
import { BLOCK_SAMPLES } from '../sources/source';
import { DelayLine } from './delayLine';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from './effect';
import { createMonoBelow } from './stereo';

type Delay = EffectOf<'delay'>;

export const MOST_DELAY_SECONDS = 8;
/** From here on a delay is a whole number of samples; shorter ones ring, and need to be in tune. */
const WHOLE_SECONDS = 0.005;
/** A new time fades in over so long, so that it makes no click and bends no pitch. */
const FADE_SECONDS = 0.02;
const MOST_FEEDBACK = 0.99;

/** Time of a side, seconds: its division at the tempo, or what is set. */
export function delaySeconds({ spec, slots, bpm }: EffectProgram<Delay>, values: Float64Array, side: 0 | 1): number {
  const division = side === 0 ? spec.leftDivision : spec.rightDivision;
  const free = values[side === 0 ? slots.leftSeconds : slots.rightSeconds];
  const seconds = division === null ? free : (beatsOfDivision(division)! * 60) / bpm;
  return Math.min(MOST_DELAY_SECONDS, seconds);
}

/** Where a side is read: one place, and for a moment another that fades in. */
class Tap {
  private now = NaN;
  private next = 0;
  private share = 0;

  constructor(private readonly fadeStep: number) {}

  clear(): void {
    this.now = NaN;
    this.share = 0;
  }

  /** Sets out for another distance, unless it is still on its way. */
  to(samples: number): void {
    if (Number.isNaN(this.now)) this.now = samples;
    if (this.share > 0 || samples === this.now) return;
    this.next = samples;
    this.share = this.fadeStep;
  }

  /** Distance at which it stays for the whole block; undefined while it moves, or where a block cannot be read at once. */
  get resting(): number | undefined {
    return this.share === 0 && this.now >= BLOCK_SAMPLES && Number.isInteger(this.now) ? this.now : undefined;
  }

  /** Reads before the present sample is written, from which the distance counts. */
  read(line: DelayLine): number {
    const x = line.read(this.now - 1);
    if (this.share === 0) return x;
    const y = x + this.share * (line.read(this.next - 1) - x);
    this.share += this.fadeStep;
    if (this.share >= 1) {
      this.now = this.next;
      this.share = 0;
    }
    return y;
  }
}

/**
 * Repeats of either side by a time of its own. The loop holds one-pole filters, a soft drive, and a way across to the other side; as a
 * ping-pong it takes both sides in on the left and sends every repeat across.
 */
export const delay: EffectModel<Delay> = {
  standsApart: true,
  create(sampleRateHz) {
    const most = Math.ceil(MOST_DELAY_SECONDS * sampleRateHz);
    const lines = [new DelayLine(most), new DelayLine(most)];
    const outs = [new Float64Array(BLOCK_SAMPLES), new Float64Array(BLOCK_SAMPLES)];
    const taps = [0, 1].map(() => new Tap(1 / (FADE_SECONDS * sampleRateHz)));
    const [feedback, across, drive] = [new Ramp(), new Ramp(), new Ramp()];
    const ramps = [feedback, across, drive];
    /** One-pole filters: low-passed lows to take away, and highs, of both sides. */
    const state = { lowL: 0, lowR: 0, highL: 0, highR: 0 };
    const monoBelow = createMonoBelow(sampleRateHz);
    const pole = (hz: number) => 1 - Math.exp((-2 * Math.PI * hz) / sampleRateHz);

    function samplesOf(seconds: number): number {
      // A place between samples is read from its neighbours, which have to be there.
      const samples = Math.max(2, seconds * sampleRateHz);
      return seconds >= WHOLE_SECONDS ? Math.round(samples) : samples;
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...taps, ...ramps, monoBelow]) part.clear();
        Object.assign(state, { lowL: 0, lowR: 0, highL: 0, highR: 0 });
      },
      run(program, values, left, right) {
        const { spec, slots } = program;
        taps[0].to(samplesOf(delaySeconds(program, values, 0)));
        taps[1].to(samplesOf(delaySeconds(program, values, 1)));
        const own = values[slots.feedback] / 100;
        const over = spec.pingPong ? own : values[slots.crossFeedback] / 100;
        const straight = spec.pingPong ? 0 : own;
        // What goes round must become less, whichever way it goes.
        const held = Math.min(1, MOST_FEEDBACK / Math.max(1e-9, Math.abs(straight) + Math.abs(over)));
        feedback.to(held * straight, BLOCK_SAMPLES);
        across.to(held * over, BLOCK_SAMPLES);
        drive.to(gainFromDecibels(values[slots.driveDb]), BLOCK_SAMPLES);
        const driven = values[slots.driveDb] > 0;
        const low = values[slots.lowCutHz] <= 10 ? 0 : pole(values[slots.lowCutHz]);
        const high = values[slots.highCutHz] >= 20000 ? 1 : pole(values[slots.highCutHz]);
        const [lineL, lineR] = lines;
        const [tapL, tapR] = taps;
        const [outsL, outsR] = outs;
        const [restL, restR] = [tapL.resting, tapR.resting];
        const rests = restL !== undefined && restR !== undefined;
        if (rests) {
          lineL.readBlock(restL, outsL);
          lineR.readBlock(restR, outsR);
        }
        // Plain variables: numbers that are kept in an object are slower to come by.
        let { lowL, lowR, highL, highR } = state;
        const { pingPong } = spec;
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const outL = rests ? outsL[i] : tapL.read(lineL);
          const outR = rests ? outsR[i] : tapR.read(lineR);
          const back = feedback.value + (i + 1) * feedback.step;
          const over = across.value + (i + 1) * across.step;
          const loopL = back * outL + over * outR;
          const loopR = back * outR + over * outL;
          lowL += low * (loopL - lowL);
          lowR += low * (loopR - lowR);
          highL += high * (loopL - lowL - highL);
          highR += high * (loopR - lowR - highR);
          const gain = drive.value + (i + 1) * drive.step;
          const againL = driven ? Math.tanh(gain * highL) / gain : highL;
          const againR = driven ? Math.tanh(gain * highR) / gain : highR;
          lineL.write(againL + (pingPong ? (left[i] + right[i]) / 2 : left[i]));
          lineR.write(againR + (pingPong ? 0 : right[i]));
          left[i] = outL;
          right[i] = outR;
        }
        state.lowL = lowL;
        state.lowR = lowR;
        state.highL = highL;
        state.highR = highR;
        monoBelow.run(values[slots.monoBelowHz], left, right);
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: (program, values) =>
        Math.ceil(sampleRateHz * Math.max(delaySeconds(program, values, 0), delaySeconds(program, values, 1))),
    };
  },
};
