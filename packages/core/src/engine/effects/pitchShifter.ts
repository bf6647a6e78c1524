import { ratioFromSemitones } from '../../dsp/pitch';
import { BLOCK_SAMPLES } from '../sources/source';
import { DelayLine } from './delayLine';
import { type EffectModel, type EffectOf, Ramp } from './effect';
import { PitchReader } from './pitchReader';

const MOST_WINDOW_SECONDS = 0.2;

/** Plays everything higher or lower, as late as half its window is long; fed back, each round is shifted again. */
export const pitchShifter: EffectModel<EffectOf<'pitchShifter'>> = {
  standsApart: true,
  create(sampleRateHz) {
    const most = Math.ceil(MOST_WINDOW_SECONDS * sampleRateHz) + 8;
    const lines = [new DelayLine(most), new DelayLine(most)];
    const readers = [new PitchReader(), new PitchReader()];
    const ratios = [new Ramp(), new Ramp()];
    const feedback = new Ramp();
    const ramps = [...ratios, feedback];
    const backs = new Float64Array(2);

    function runSide(side: number, window: number, signal: Float64Array): void {
      const [line, reader, ratio] = [lines[side], readers[side], ratios[side]];
      for (let i = 0; i < BLOCK_SAMPLES; i++) {
        line.write(signal[i] + (feedback.value + (i + 1) * feedback.step) * backs[side]);
        signal[i] = reader.read(line, ratio.value + (i + 1) * ratio.step, window, 0);
        backs[side] = signal[i];
      }
    }

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...readers, ...ramps]) part.clear();
        backs.fill(0);
      },
      run({ slots }, values, left, right) {
        const semitones = values[slots.semitones];
        const apart = values[slots.apartCents] / 200;
        ratios[0].to(ratioFromSemitones(semitones - apart), BLOCK_SAMPLES);
        ratios[1].to(ratioFromSemitones(semitones + apart), BLOCK_SAMPLES);
        feedback.to(values[slots.feedback] / 100, BLOCK_SAMPLES);
        const window = values[slots.windowSeconds] * sampleRateHz;
        runSide(0, window, left);
        runSide(1, window, right);
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
      },
      hiddenSamples: () => most,
    };
  },
};
