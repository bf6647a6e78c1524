import { gainFromDecibels } from '../../../dsp/decibels';
import { kernel, kernelNumbers } from '../../../dsp/kernel/kernel';
import { kernelSides } from '../../../dsp/kernel/sides';
import { beatsOfDivision } from '../../../parameters/division';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, type EffectProgram, Ramp } from '../chain/effect';
import { createMonoBelow } from '../levels/stereo';
import { CROSSOVER_Q, ringing, rounds } from '../chain/ringing';

type Delay = EffectOf<'delay'>;

export const MOST_DELAY_SECONDS = 8;
/** From here on a delay is a whole number of samples; shorter ones ring, and need to be in tune. */
const WHOLE_SECONDS = 0.005;
/** A new time fades in over so long, so that it makes no click and bends no pitch. */
const FADE_SECONDS = 0.02;
const MOST_FEEDBACK = 0.99;
/** A time that bends moves by no more samples a sample than this: an octave down to a fifth up. */
const MOST_BEND = 0.5;

/** In the kernel: what comes in, what comes out of either line, and what goes into it. */
const { dryLeft: inL, dryRight: inR, left: outL, right: outR, loopLeft: nextL, loopRight: nextR } = kernelSides;
const loopState = kernelNumbers('state', 4);

/** Time of a side, seconds: its division at the tempo, or what is set. */
export function delaySeconds({ spec, slots, bpm }: EffectProgram<Delay>, values: Float64Array, side: 0 | 1): number {
  const division = side === 0 ? spec.leftDivision : spec.rightDivision;
  const free = values[side === 0 ? slots.leftSeconds : slots.rightSeconds];
  const seconds = division === null ? free : (beatsOfDivision(division)! * 60) / bpm;
  return Math.min(MOST_DELAY_SECONDS, seconds);
}

/** Where a side is read: one place, and for a moment another that fades in; or a place that moves. */
class Tap {
  private now = NaN;
  private next = 0;
  private share = 0;
  /** By how much further each sample is read than the one before. */
  private step = 0;

  constructor(private readonly fadeStep: number) {}

  clear(): void {
    this.now = NaN;
    this.share = 0;
  }

  /**
   * Sets out for another distance, unless it is still on its way: for the block to come by running there, or
   * by a fade.
   */
  to(samples: number, bends: boolean): void {
    if (Number.isNaN(this.now)) this.now = samples;
    this.step = 0;
    if (this.share > 0 || samples === this.now) return;
    if (bends) {
      this.step = Math.max(-MOST_BEND, Math.min(MOST_BEND, (samples - this.now) / BLOCK_SAMPLES));
      this.next = samples;
    } else {
      this.next = samples;
      this.share = this.fadeStep;
    }
  }

  /** Arrives where the block has led. */
  arrive(): void {
    if (this.step === 0) return;
    this.now =
      Math.abs(this.next - this.now) <= MOST_BEND * BLOCK_SAMPLES ? this.next : this.now + BLOCK_SAMPLES * this.step;
  }

  /** The shortest of the distances at which it reads during a block. */
  get nearest(): number {
    if (this.step < 0) return this.now + BLOCK_SAMPLES * this.step;
    return this.share === 0 ? this.now : Math.min(this.now, this.next);
  }

  /**
   * Has the line put out what belongs to each of the `count` samples from `from` on, which are fewer than the
   * nearest distance.
   */
  read(line: DelayLine, from: number, count: number): void {
    const { step } = this;
    if (this.share === 0 && step === 0 && Number.isInteger(this.now)) {
      line.readBlock(this.now, from, count);
      return;
    }
    for (let n = 0; n < count; n++) {
      let x = line.readAhead(this.now + (from + n + 1) * step, n);
      if (this.share > 0) {
        x += this.share * (line.readAhead(this.next, n) - x);
        this.share += this.fadeStep;
        if (this.share >= 1) {
          this.now = this.next;
          this.share = 0;
        }
      }
      line.out[from + n] = x;
    }
  }
}

/**
 * Repeats of either side by a time of its own. The loop holds one-pole filters, a soft drive, and a way
 * across to the other side; as a ping-pong it takes both sides in on the left and sends every repeat across.
 */
export const delay: EffectModel<Delay> = {
  leavesDc: ({ feedback, crossFeedback }) => Math.abs(feedback) + Math.abs(crossFeedback) > 50,
  standsApart: true,
  tailSeconds(effect, bpm) {
    const [left, right] = [effect.leftDivision, effect.rightDivision].map((division, side) => {
      const free = side === 0 ? effect.leftSeconds : effect.rightSeconds;
      return division === null ? free : (beatsOfDivision(division)! * 60) / bpm;
    });
    const back = Math.abs(effect.feedback) + (effect.pingPong ? 0 : Math.abs(effect.crossFeedback));
    const longest = Math.max(left, right);
    return longest + ringing(Math.max(10, effect.monoBelowHz), CROSSOVER_Q) + rounds(back, longest);
  },
  create(sampleRateHz) {
    const most = Math.ceil(MOST_DELAY_SECONDS * sampleRateHz);
    const lines = [new DelayLine(most), new DelayLine(most)];
    const taps = [0, 1].map(() => new Tap(1 / (FADE_SECONDS * sampleRateHz)));
    const [feedback, across, drive] = [new Ramp(), new Ramp(), new Ramp()];
    const ramps = [feedback, across, drive];
    /** One-pole filters of the loop: low-passed lows to take away and highs, both sides of each. */
    const loop = new Float64Array(loopState.length);
    const monoBelow = createMonoBelow(sampleRateHz);
    const pole = (hz: number) => 1 - Math.exp((-2 * Math.PI * hz) / sampleRateHz);

    function samplesOf(seconds: number, bends: boolean): number {
      // A place between samples is read from its neighbours, which have to be there.
      const samples = Math.max(2, seconds * sampleRateHz);
      // Steps of whole samples would be heard in the pitch of a time that bends.
      return seconds >= WHOLE_SECONDS && !bends ? Math.round(samples) : samples;
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...taps, ...ramps, monoBelow]) part.clear();
        loop.fill(0);
      },
      run(program, values, left, right) {
        const { spec, slots } = program;
        taps[0].to(samplesOf(delaySeconds(program, values, 0), spec.bends), spec.bends);
        taps[1].to(samplesOf(delaySeconds(program, values, 1), spec.bends), spec.bends);
        const own = values[slots.feedback] / 100;
        const over = spec.pingPong ? own : values[slots.crossFeedback] / 100;
        const straight = spec.pingPong ? 0 : own;
        // What goes round must become less, whichever way it goes.
        const held = Math.min(1, MOST_FEEDBACK / Math.max(1e-9, Math.abs(straight) + Math.abs(over)));
        feedback.to(held * straight, BLOCK_SAMPLES);
        across.to(held * over, BLOCK_SAMPLES);
        drive.to(gainFromDecibels(values[slots.driveDb]), BLOCK_SAMPLES);
        const [lineL, lineR] = lines;
        const [tapL, tapR] = taps;
        const low = values[slots.lowCutHz] <= 10 ? 0 : pole(values[slots.lowCutHz]);
        const high = values[slots.highCutHz] >= 20000 ? 1 : pole(values[slots.highCutHz]);
        if (low === 0) loop.fill(0, 0, 2);
        inL.set(left);
        inR.set(right);
        if (spec.pingPong) {
          for (let i = 0; i < BLOCK_SAMPLES; i++) inL[i] = (inL[i] + inR[i]) / 2;
          inR.fill(0);
        }
        loopState.set(loop);
        // No more at a time than are out of the lines before anything of it is due again.
        for (let from = 0, count = 0; from < BLOCK_SAMPLES; from += count) {
          count = Math.min(BLOCK_SAMPLES - from, Math.floor(Math.min(tapL.nearest, tapR.nearest)) - 1);
          tapL.read(lineL, from, count);
          tapR.read(lineR, from, count);
          outL.set(lineL.out);
          outR.set(lineR.out);
          kernel.sendRound(
            from,
            from + count,
            feedback.value + from * feedback.step,
            feedback.step,
            across.value + from * across.step,
            across.step,
            low,
            high,
            drive.value + from * drive.step,
            drive.step,
          );
          lineL.in.set(nextL);
          lineR.in.set(nextR);
          lineL.writeBlock(from, count);
          lineR.writeBlock(from, count);
        }
        tapL.arrive();
        tapR.arrive();
        loop.set(loopState);
        left.set(outL);
        right.set(outR);
        monoBelow.run(values[slots.monoBelowHz], left, right);
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: (program, values) =>
        Math.ceil(sampleRateHz * Math.max(delaySeconds(program, values, 0), delaySeconds(program, values, 1))),
    };
  },
};
