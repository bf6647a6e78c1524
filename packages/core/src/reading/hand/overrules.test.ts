import { harmonicTone, saw } from '../../../test/signals';
import { applyOverrules, canOverrule, overruleNames, overrulesSchema, valueAt } from './overrules';
import { readTone } from '../read';

const reading = readTone({
  channels: [harmonicTone({ f0Hz: 220, amplitude: saw, envelope: (t) => Math.min(1, t / 0.02) })],
  sampleRateHz: 44100,
});

describe('Values set by hand', () => {
  it('stand in place of those that were measured, which stay as they were', () => {
    const changed = applyOverrules(reading, { attackSeconds: 0.5, cutoffHz: 900 });
    expect(valueAt(changed, 'attackSeconds')).toBe(0.5);
    expect(valueAt(changed, 'cutoffHz')).toBe(900);
    expect(valueAt(reading, 'attackSeconds')).not.toBe(0.5);
    expect(changed.traits.partials).toEqual(reading.traits.partials);
    expect(applyOverrules(reading, {})).toBe(reading);
  });

  it('a fundamental brings its note along', () => {
    // A4 is note 69 (MIDI 1.0); 446 Hz is 23.4 cents over it.
    const { pitch } = applyOverrules(reading, { f0Hz: 446 }).traits;
    expect(pitch.midi).toBe(69);
    expect(pitch.cents).toBeCloseTo(23.4, 0);
  });

  it('have a place only where there is something', () => {
    expect(canOverrule(reading, 'vibratoRateHz')).toBe(false);
    expect(valueAt(reading, 'vibratoRateHz')).toBeNull();
    expect(applyOverrules(reading, { vibratoRateHz: 5 })).toBe(reading);
    // What was not found at all can be told: a room that nobody could measure.
    expect(valueAt(applyOverrules(reading, { rt60Seconds: 1.5 }), 'rt60Seconds')).toBe(1.5);
  });

  it('are within their range, and the error says which', () => {
    const { error } = overrulesSchema.safeParse({ cutoffHz: 90000 });
    expect(error?.issues[0].message).toBe('Cutoff is from 20 to 20000 Hz');
    expect(overrulesSchema.safeParse({ cutoffHz: 500 }).success).toBe(true);
    expect(overrulesSchema.safeParse({ colour: 1 }).success).toBe(false);
    expect(overruleNames).toContain('detuneCents');
  });
});
