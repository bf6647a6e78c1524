import { forgetSmall } from '../../filters/stateVariable';
import { ratioFromSemitones } from '../../../dsp/pitch';
import { BLOCK_SAMPLES } from '../../sources/source';
import { DelayLine } from '../chain/delayLine';
import { type EffectModel, type EffectOf, Ramp } from '../chain/effect';
import { tunedHz } from '../pitch/ringModulator';

const LOWEST_HZ = 16;
/** At full damping the loop's low-pass has this pole. */
const MOST_POLE = 0.9;

/**
 * Gain of the loop at the lowest frequencies, where the low-pass takes nothing: under 1, and there nothing
 * rings more than twice as long.
 */
const MOST_GAIN = 0.9995;
/**
 * With 1 a long tone at the pitch would come out as loud as it went in, and all else be hardly heard; with
 * 0.5 noise would, and a tone be far too loud.
 */
const INPUT_POWER = 0.75;

/**
 * A comb that rings at a pitch: a string that what goes in sets off (Karplus & Strong 1983; tuned as in Jaffe
 * & Smith 1983).
 */
export const resonator: EffectModel<EffectOf<'resonator'>> = {
  leavesDc: () => true,
  standsApart: true,
  tailSeconds: (effect) => 2 * effect.decaySeconds + 0.1,
  create(sampleRateHz) {
    const most = Math.ceil(sampleRateHz / LOWEST_HZ) + 4;
    const lines = [new DelayLine(most), new DelayLine(most)];
    const [period, gain, pole] = [new Ramp(), new Ramp(), new Ramp()];
    const ramps = [period, gain, pole];
    const damped = new Float64Array(2);

    return {
      latency: 0,
      clear() {
        for (const part of [...lines, ...ramps]) part.clear();
        damped.fill(0);
      },
      run({ spec, slots }, values, left, right, { noteHz }) {
        const ratio = ratioFromSemitones(values[slots.semitones]);
        const hz = Math.max(LOWEST_HZ, tunedHz(spec.tuning, values[slots.toneHz], ratio, noteHz));
        const p = (MOST_POLE * values[slots.damping]) / 100;
        const omega = (2 * Math.PI * hz) / sampleRateHz;
        // At the pitch itself the low-pass makes the loop longer by its phase and weaker by its gain; a
        // hollow one turns round half as often.
        const late = Math.atan2(p * Math.sin(omega), 1 - p * Math.cos(omega)) / omega;
        const loss = (1 - p) / Math.sqrt(1 - 2 * p * Math.cos(omega) + p * p);
        const length = sampleRateHz / hz / (spec.hollow ? 2 : 1);
        period.to(Math.max(2, length - late), BLOCK_SAMPLES);
        const perRound = 10 ** ((-3 * length) / sampleRateHz / values[slots.decaySeconds]);
        gain.to((spec.hollow ? -1 : 1) * Math.min(MOST_GAIN, Math.sqrt(perRound), perRound / loss), BLOCK_SAMPLES);
        pole.to(p, BLOCK_SAMPLES);
        for (let i = 0; i < BLOCK_SAMPLES; i++) {
          const distance = period.value + (i + 1) * period.step - 1;
          const back = gain.value + (i + 1) * gain.step;
          const low = pole.value + (i + 1) * pole.step;
          damped[0] = (1 - low) * lines[0].read(distance) + low * damped[0];
          damped[1] = (1 - low) * lines[1].read(distance) + low * damped[1];
          const input = (1 - Math.abs(back)) ** INPUT_POWER;
          const outL = input * left[i] + back * damped[0];
          const outR = input * right[i] + back * damped[1];
          lines[0].write(outL);
          lines[1].write(outR);
          left[i] = outL;
          right[i] = outR;
        }
        for (let r = 0; r < ramps.length; r++) ramps[r].advance(BLOCK_SAMPLES);
        damped[0] = forgetSmall(damped[0]);
        damped[1] = forgetSmall(damped[1]);
      },
      hiddenSamples: () => most,
    };
  },
};
