import { RATE, hzAt, note, play, voicePatch } from '../../../test/playing';
import { amplitudeAt, largestStep } from '../../../test/signals';
import { centsBetween } from '../../dsp/pitch';

describe('Notes at once', () => {
  const twenty = Array.from({ length: 20 }, (_, i) => note(0.2 * i, 0.1, 57));

  it.each([1, 2, 5])('counts those that ring, too: %d', (polyphony) => {
    const patch = voicePatch({ mode: 'poly', polyphony });
    patch.layers[0].amp.releaseSeconds = 60;
    const [signal] = play(patch, twenty, 4);
    const [one] = play(patch, [note(0, 0.1, 57)], 0.2);
    const peak = (part: Float32Array) => part.reduce((most, x) => Math.max(most, Math.abs(x)), 0);
    // Between two notes: the one that makes room takes 5 ms to go.
    for (let i = 0; i < 20; i++) {
      const between = signal.subarray((0.2 * i + 0.02) * RATE, (0.2 * i + 0.19) * RATE);
      expect(peak(between)).toBeLessThan(1.02 * polyphony * peak(one));
    }
    expect(peak(signal.subarray(3.02 * RATE))).toBeGreaterThan(0.5 * polyphony * peak(one));
  });

  it('takes what is released before what is held, and that without a click', () => {
    const patch = voicePatch({ mode: 'poly', polyphony: 2 });
    patch.layers[0].amp.releaseSeconds = 60;
    const held = [note(0, 9, 45), note(0.2, 0.1, 57), note(0.5, 9, 69)];
    const [signal] = play(patch, held, 1.2);
    const later = signal.subarray(0.7 * RATE, 1.2 * RATE);
    expect(amplitudeAt(later, RATE, 110)).toBeGreaterThan(0.9);
    expect(amplitudeAt(later, RATE, 440)).toBeGreaterThan(0.9);
    expect(amplitudeAt(later, RATE, 220)).toBeLessThan(0.001);
    const steepest = (hz: number) => 2 * Math.sin((Math.PI * hz) / RATE);
    expect(largestStep(signal)).toBeLessThan(1.2 * (steepest(110) + steepest(220) + steepest(440)));
  });
});

describe('Mono and legato', () => {
  const line = [note(0, 0.5, 57), note(0.3, 0.5, 69)];

  it('mono plays one note at a time and goes back to the one still held', () => {
    const held = [note(0, 1, 57), note(0.3, 0.3, 69)];
    const [signal] = play(voicePatch({ mode: 'mono' }), held, 1);
    expect(hzAt(signal, 0.2, 0.05)).toBeCloseTo(220, 0);
    expect(hzAt(signal, 0.5, 0.05)).toBeCloseTo(440, 0);
    expect(hzAt(signal, 0.9, 0.05)).toBeCloseTo(220, 0);
    expect(amplitudeAt(signal.subarray(0.35 * RATE, 0.55 * RATE), RATE, 220)).toBeLessThan(0.01);
  });

  it('mono starts the contour anew, legato carries on', () => {
    for (const mode of ['mono', 'legato'] as const) {
      const patch = voicePatch({ mode });
      Object.assign(patch.layers[0].amp, { attackSeconds: 0.2 });
      const [signal] = play(patch, line, 0.8);
      const level = Math.max(...signal.subarray(0.34 * RATE, 0.36 * RATE));
      if (mode === 'mono') expect(level).toBeLessThan(0.4);
      else expect(level).toBeGreaterThan(0.95);
    }
  });

  it.each(['time', 'octave'] as const)('glides with a constant %s', (glideBy) => {
    const patch = voicePatch({ mode: 'legato', glide: 'overlap', glideSeconds: 0.1, glideBy });
    const [signal] = play(patch, [note(0, 1, 45), note(0.2, 0.8, 69)], 0.8);
    // Two octaves: 0.1 s in all, or 0.1 s for each.
    const length = glideBy === 'time' ? 0.1 : 0.2;
    expect(centsBetween(110, hzAt(signal, 0.2 + length / 2, 0.02))).toBeCloseTo(1200, -2);
    expect(centsBetween(440, hzAt(signal, 0.2 + length + 0.02))).toBeCloseTo(0, 0);
  });

  it('glides only on overlap, or always', () => {
    const apart = [note(0, 0.2, 57), note(0.4, 0.4, 69)];
    const overlap = voicePatch({ mode: 'mono', glide: 'overlap', glideSeconds: 0.2 });
    expect(hzAt(play(overlap, apart, 0.8)[0], 0.45)).toBeCloseTo(440, 0);
    const always = voicePatch({ mode: 'mono', glide: 'always', glideSeconds: 0.2 });
    expect(hzAt(play(always, apart, 0.8)[0], 0.42)).toBeLessThan(300);
  });

  it('limits the notes at once, without clicks', () => {
    const patch = voicePatch({ polyphony: 2 });
    const [signal] = play(patch, [note(0, 2, 57, 50), note(0.1, 2, 61, 50), note(0.2, 2, 64, 50)], 0.6);
    expect(amplitudeAt(signal.subarray(0.3 * RATE), RATE, 220)).toBeLessThan(0.01);
    expect(amplitudeAt(signal.subarray(0.3 * RATE), RATE, 329.63)).toBeGreaterThan(0.2);
    expect(largestStep(signal)).toBeLessThan(0.04);
  });
});
