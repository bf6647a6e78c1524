import { beatsOfDivision } from '../../parameters/division';
import { EQUALIZER_BANDS } from '../../parameters/effectParameters';
import type { Effect } from '../../patch/schema';
import { DC_SERVO_SECONDS } from './dcServo';
import { DC_HZ as REDUCER_DC_HZ } from './reducer';
import { effectModels } from './index';

/** What filters and curves hold for a moment. */
const SHORT_SECONDS = 0.1;
/** Corner of what takes constants away. */
const LOWEST_HZ = 5;
/** A crossover rings about as long as a resonance of this Q. */
const CROSSOVER_Q = 3;
/** The first formant of i. */
const LOWEST_FORMANT_HZ = 270;
/** No tail is told longer. */
const MOST_SECONDS = 120;

/**
 * How long an effect goes on once nothing comes in: until what it holds has fallen by 60 dB, seconds. Of what goes round, a round by its gain
 * in dB; of a resonance, ln(1000)·Q/(π·f).
 */
export function tailSeconds(effect: Effect, bpm: number): number {
  if (!effect.on || effect.mix === 0) return SHORT_SECONDS;
  const dcBlock = effectModels[effect.kind].leavesDc?.(effect) ? ringing(LOWEST_HZ, 1) : 0;
  return Math.min(MOST_SECONDS, SHORT_SECONDS + heldSeconds(effect, bpm) + dcBlock);
}

const rounds = (feedbackPercent: number, roundSeconds: number): number => {
  const gain = Math.min(0.99, Math.abs(feedbackPercent) / 100);
  return gain > 0.001 ? (roundSeconds * 60) / (-20 * Math.log10(gain)) : 0;
};

const ringing = (hz: number, q: number): number => (Math.log(1000) * q) / (Math.PI * hz);

function heldSeconds(effect: Effect, bpm: number): number {
  switch (effect.kind) {
    case 'equalizer': {
      const numbers = effect as unknown as Record<string, number>;
      const bands = Array.from({ length: EQUALIZER_BANDS }, (_, i) => {
        if (effect.bands[i].kind === 'off') return 0;
        // Steep cuts ring longer than their Q says; a bell that lifts narrows by its gain.
        const lift = 10 ** (Math.abs(numbers[`band${i + 1}Db`]) / 40);
        return ringing(numbers[`band${i + 1}Hz`], 3 * lift * Math.max(1, numbers[`band${i + 1}Q`]));
      });
      return bands.reduce((sum, seconds) => sum + seconds, 0);
    }
    case 'drive':
      // The constant that a crooked curve leaves goes slowly.
      return ringing(effect.toneHz, 1) + ringing(LOWEST_HZ, 1);
    case 'reducer':
      return ringing(effect.toneHz, 1) + ringing(REDUCER_DC_HZ, 1);
    case 'limiter':
      return DC_SERVO_SECONDS;
    case 'multiband':
      // What is soft is lifted again while it dies away.
      return ringing(effect.lowHz, 2) + 1;
    case 'chorus':
      return (
        effect.delaySeconds +
        effect.depthSeconds +
        ringing(effect.lowCutHz, CROSSOVER_Q) +
        rounds(effect.feedback, effect.delaySeconds + effect.depthSeconds)
      );
    case 'flanger': {
      const round = effect.delaySeconds + effect.depthSeconds;
      return round + rounds(effect.feedback, round);
    }
    case 'phasing': {
      const lowestHz = effect.centreHz * 2 ** (-(effect.spreadOctaves + effect.depthOctaves) / 2);
      // The longest that a first-order all-pass holds anything is 1/(π·f), at the bottom.
      const round = effect.stages / (Math.PI * Math.max(1, lowestHz));
      // Where many corners come together a resonance is held a little longer still.
      return 3 * round + 1.5 * rounds(effect.feedback, round);
    }
    case 'delay': {
      const [left, right] = [effect.leftDivision, effect.rightDivision].map((division, side) => {
        const free = side === 0 ? effect.leftSeconds : effect.rightSeconds;
        return division === null ? free : (beatsOfDivision(division)! * 60) / bpm;
      });
      const back = Math.abs(effect.feedback) + (effect.pingPong ? 0 : Math.abs(effect.crossFeedback));
      const longest = Math.max(left, right);
      return longest + ringing(Math.max(10, effect.monoBelowHz), CROSSOVER_Q) + rounds(back, longest);
    }
    case 'reverb':
      return 1.2 * effect.rt60Seconds + effect.preDelaySeconds + 0.4;
    case 'widener':
      return ringing(effect.monoBelowHz, CROSSOVER_Q);
    case 'frequencyShifter':
      // What comes near 0 is held there by the filters of the loop.
      return 0.1 + rounds(effect.feedback, 0.1);
    case 'pitchShifter':
      return effect.windowSeconds + rounds(effect.feedback, effect.windowSeconds);
    case 'vocoder':
      return 0.3 + 7 * effect.releaseSeconds;
    case 'resonator':
      return 2 * effect.decaySeconds + 0.1;
    case 'grainDelay': {
      const round = effect.timeSeconds + effect.spraySeconds + effect.sizeSeconds;
      return round + effect.sizeSeconds + rounds(effect.feedback, round);
    }
    case 'ducker':
      return ringing(effect.belowHz, CROSSOVER_Q);
    case 'stereo':
      return ringing(effect.monoBelowHz, CROSSOVER_Q) + (effect.removeDc ? ringing(LOWEST_HZ, 0.5) : 0);
    case 'vowelFilter':
      return ringing(
        LOWEST_FORMANT_HZ * 2 ** (effect.shiftSemitones / 12),
        Math.SQRT1_2 * 10 ** (effect.resonanceDb / 20),
      );
    default:
      return 0;
  }
}

/** Of a whole chain: its tails one after the other. */
export const chainTailSeconds = (effects: readonly Effect[], bpm: number): number =>
  effects.reduce((sum, effect) => sum + tailSeconds(effect, bpm), 0);
