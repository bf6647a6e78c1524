import { gainFromDecibels } from '../dsp/decibels';
import { SILENT_DB } from '../parameters/table';
import type { Envelope } from './schema';

type EnvelopeTimes = Pick<Envelope, 'attackSeconds' | 'holdSeconds' | 'decaySeconds' | 'sustainDb' | 'releaseSeconds'>;

/** An envelope's constants, worked out once. */
export interface EnvelopeProgram {
  attackSeconds: number;
  decayStartSeconds: number;
  decayTau: number;
  sustain: number;
  releaseTau: number;
}

/** Travel that is left when a decay counts as over: 5 %, after three time constants. */
const DECAY_TAUS = -Math.log(0.05);
/** A release is stated down to −60 dB. */
const RELEASE_TAUS = Math.log(1000);

export function compileEnvelope(envelope: EnvelopeTimes): EnvelopeProgram {
  return {
    attackSeconds: envelope.attackSeconds,
    decayStartSeconds: envelope.attackSeconds + envelope.holdSeconds,
    decayTau: envelope.decaySeconds / DECAY_TAUS,
    sustain: envelope.sustainDb <= SILENT_DB ? 0 : gainFromDecibels(envelope.sustainDb),
    releaseTau: envelope.releaseSeconds / RELEASE_TAUS,
  };
}

/**
 * Value 0..1 of an envelope at a time since note-on: a straight attack, a hold, an exponential decay to the sustain
 * and, from `releasedAt` on, an exponential release from wherever it was. A function of time alone, so that a voice
 * can be joined at any point and a measured contour be fitted with the very curve that will be played.
 */
export function envelopeValue(program: EnvelopeProgram, seconds: number, releasedAt = Infinity): number {
  if (seconds < 0) return 0;
  if (seconds < releasedAt) return heldValue(program, seconds);
  const start = heldValue(program, releasedAt);
  return program.releaseTau > 0 ? start * Math.exp(-(seconds - releasedAt) / program.releaseTau) : 0;
}

function heldValue({ attackSeconds, decayStartSeconds, decayTau, sustain }: EnvelopeProgram, seconds: number): number {
  if (seconds < attackSeconds) return seconds / attackSeconds;
  if (seconds < decayStartSeconds) return 1;
  if (decayTau <= 0) return sustain;
  return sustain + (1 - sustain) * Math.exp(-(seconds - decayStartSeconds) / decayTau);
}
