import { plainPatch, sourcePatch } from '../../../test/patches';
import { amplitudeAt, createRandom, decibels, largestStep, hzAt as measuredHz } from '../../../test/signals';
import { powerSpectrum } from '../../../test/spectrum';
import { centsBetween } from '../../dsp/pitch';
import { sampleFromChannels } from '../../patch/samplePcm';
import type { Patch } from '../../patch/schema';
import { createEngine } from '../engine';
import { renderPatch } from '../render';
import { prepareResources } from '../program/resources';
import { placeOf } from '../sources/unison';

const RATE = 44100;
const note = (onsetSeconds: number, durationSeconds: number, midi: number, velocity = 100) => ({
  onsetSeconds,
  durationSeconds,
  midi,
  velocity,
});
const render = (patch: Patch, notes: ReturnType<typeof note>[], seconds: number) =>
  renderPatch({ patch, notes, sampleRateHz: RATE, seconds });

const hzAt = (signal: Float32Array, seconds: number, windowSeconds?: number) =>
  measuredHz(signal, RATE, seconds, windowSeconds);

function voicePatch(voice: Partial<Patch['layers'][0]['voice']>): Patch {
  const patch = plainPatch('sine');
  Object.assign(patch.layers[0].voice, voice);
  return patch;
}

describe('Notes at once', () => {
  const twenty = Array.from({ length: 20 }, (_, i) => note(0.2 * i, 0.1, 57));

  it.each([1, 2, 5])('counts those that ring, too: %d', (polyphony) => {
    const patch = voicePatch({ mode: 'poly', polyphony });
    patch.layers[0].amp.releaseSeconds = 60;
    const [signal] = render(patch, twenty, 4);
    const [one] = render(patch, [note(0, 0.1, 57)], 0.2);
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
    const [signal] = render(patch, held, 1.2);
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
    const [signal] = render(voicePatch({ mode: 'mono' }), held, 1);
    expect(hzAt(signal, 0.2, 0.05)).toBeCloseTo(220, 0);
    expect(hzAt(signal, 0.5, 0.05)).toBeCloseTo(440, 0);
    expect(hzAt(signal, 0.9, 0.05)).toBeCloseTo(220, 0);
    expect(amplitudeAt(signal.subarray(0.35 * RATE, 0.55 * RATE), RATE, 220)).toBeLessThan(0.01);
  });

  it('mono starts the contour anew, legato carries on', () => {
    for (const mode of ['mono', 'legato'] as const) {
      const patch = voicePatch({ mode });
      Object.assign(patch.layers[0].amp, { attackSeconds: 0.2 });
      const [signal] = render(patch, line, 0.8);
      const level = Math.max(...signal.subarray(0.34 * RATE, 0.36 * RATE));
      if (mode === 'mono') expect(level).toBeLessThan(0.4);
      else expect(level).toBeGreaterThan(0.95);
    }
  });

  it.each(['time', 'octave'] as const)('glides with a constant %s', (glideBy) => {
    const patch = voicePatch({ mode: 'legato', glide: 'overlap', glideSeconds: 0.1, glideBy });
    const [signal] = render(patch, [note(0, 1, 45), note(0.2, 0.8, 69)], 0.8);
    // Two octaves: 0.1 s in all, or 0.1 s for each.
    const length = glideBy === 'time' ? 0.1 : 0.2;
    expect(centsBetween(110, hzAt(signal, 0.2 + length / 2, 0.02))).toBeCloseTo(1200, -2);
    expect(centsBetween(440, hzAt(signal, 0.2 + length + 0.02))).toBeCloseTo(0, 0);
  });

  it('glides only on overlap, or always', () => {
    const apart = [note(0, 0.2, 57), note(0.4, 0.4, 69)];
    const overlap = voicePatch({ mode: 'mono', glide: 'overlap', glideSeconds: 0.2 });
    expect(hzAt(render(overlap, apart, 0.8)[0], 0.45)).toBeCloseTo(440, 0);
    const always = voicePatch({ mode: 'mono', glide: 'always', glideSeconds: 0.2 });
    expect(hzAt(render(always, apart, 0.8)[0], 0.42)).toBeLessThan(300);
  });

  it('limits the notes at once, without clicks', () => {
    const patch = voicePatch({ polyphony: 2 });
    const [signal] = render(patch, [note(0, 2, 57, 50), note(0.1, 2, 61, 50), note(0.2, 2, 64, 50)], 0.6);
    expect(amplitudeAt(signal.subarray(0.3 * RATE), RATE, 220)).toBeLessThan(0.01);
    expect(amplitudeAt(signal.subarray(0.3 * RATE), RATE, 329.63)).toBeGreaterThan(0.2);
    expect(largestStep(signal)).toBeLessThan(0.04);
  });
});

describe('What the player moves', () => {
  function played(patch: Patch, control: 'bend' | 'wheel' | 'pressure', value: number): Float32Array {
    const engine = createEngine({ sampleRateHz: RATE }, patch, prepareResources(patch));
    engine.schedule({ kind: 'noteOn', frame: 0, noteId: 1, midi: 69, velocity: 100 });
    engine.schedule({ kind: 'control', frame: RATE / 4, control, value });
    const left = new Float32Array(RATE / 2);
    engine.process(left, new Float32Array(RATE / 2), 0, left.length);
    return left;
  }

  it('bend goes over the bend range, without a click', () => {
    const signal = played(voicePatch({ bendSemitones: 12 }), 'bend', -1);
    expect(hzAt(signal, 0.2)).toBeCloseTo(440, 0);
    expect(centsBetween(440, hzAt(signal, 0.4))).toBeCloseTo(-1200, 0);
    expect(largestStep(signal.subarray(1000))).toBeLessThan(0.07);
  });
});

describe('Unison', () => {
  it('has its total spread between the outer voices, evenly in between', () => {
    const signal = render(plainPatch('sine', { unisonVoices: 3, unisonDetuneCents: 100 }), [note(0, 9, 69)], 4)[0];
    for (const cents of [-50, 0, 50]) {
      expect(amplitudeAt(signal, RATE, 440 * 2 ** (cents / 1200))).toBeCloseTo(1 / Math.sqrt(3), 1);
    }
  });

  it('spacing moves the inner voices in or out; the outer ones stay', () => {
    expect(placeOf(0, 5, 1)).toBe(-1);
    expect(placeOf(3, 5, 1)).toBeGreaterThan(0.5);
    expect(placeOf(3, 5, -1)).toBeLessThan(0.5);
    expect(placeOf(2, 5, 0.7)).toBe(0);
  });

  it('balance lets the outer voices stand back', () => {
    const fields = { unisonVoices: 3, unisonDetuneCents: 100, unisonBalance: -12 };
    const signal = render(plainPatch('sine', fields), [note(0, 9, 69)], 4)[0];
    const middle = amplitudeAt(signal, RATE, 440);
    expect(decibels(amplitudeAt(signal, RATE, 440 * 2 ** (50 / 1200)) / middle)).toBeCloseTo(-12, 0);
  });

  it.each([2, 3, 4, 7, 16])('of %i voices is as loud on the left as on the right', (unisonVoices) => {
    const patch = plainPatch('saw', { unisonVoices, unisonDetuneCents: 200, unisonSpread: 100 });
    const [left, right] = render(patch, [note(0, 9, 57)], 4);
    const power = (signal: Float32Array) => signal.reduce((sum, x) => sum + x * x, 0);
    expect(Math.abs(decibels(power(left) / power(right)) / 2)).toBeLessThan(0.5);
    expect(left).not.toEqual(right);
  });

  it('drift wanders slowly by at most its amount, the same at every render', () => {
    const patch = plainPatch('sine', { driftCents: 20 });
    const [signal] = render(patch, [note(0, 9, 69)], 4);
    const cents = Array.from({ length: 38 }, (_, i) => centsBetween(440, hzAt(signal, 0.1 + i / 10)));
    expect(Math.max(...cents.map(Math.abs))).toBeLessThan(20.5);
    expect(Math.max(...cents) - Math.min(...cents)).toBeGreaterThan(3);
    expect(render(patch, [note(0, 9, 69)], 4)[0]).toEqual(signal);
  });
});

describe('Sources', () => {
  const rms = (signal: Float32Array) => Math.sqrt(signal.reduce((sum, x) => sum + x * x, 0) / signal.length);

  it.each([
    [0, 0],
    [-3, -3.01],
    [-6, -6.02],
  ])('noise of %f dB per octave falls so', (slopeDbPerOctave, expected) => {
    const [signal] = render(sourcePatch({ kind: 'noise', slopeDbPerOctave }), [note(0, 9, 60)], 8);
    // Mean power of single lines within an octave.
    const bandDb = (fromHz: number) => {
      let sum = 0;
      for (let i = 0; i < 60; i++) sum += amplitudeAt(signal.subarray(0, RATE), RATE, fromHz * (1 + i / 60)) ** 2;
      return 10 * Math.log10(sum);
    };
    expect((bandDb(4000) - bandDb(500)) / 3).toBeGreaterThan(expected - 0.8);
    expect((bandDb(4000) - bandDb(500)) / 3).toBeLessThan(expected + 0.8);
  });

  it.each([44100, 48000, 96000])('coloured noise keeps its slope from 40 Hz to 18 kHz at %d Hz', (sampleRateHz) => {
    for (const slopeDbPerOctave of [-1.5, -3, -4.5, -6]) {
      const patch = sourcePatch({ kind: 'noise', slopeDbPerOctave });
      const [signal] = renderPatch({ patch, notes: [note(0, 99, 60)], sampleRateHz, seconds: 12 });
      const frames = Array.from({ length: 24 }, (_, f) => powerSpectrum(signal.subarray(f * 16000)));
      const spectrum = frames[0].map((_, k) => frames.reduce((sum, frame) => sum + frame[k], 0));
      const hzPerLine = sampleRateHz / 2 / spectrum.length;
      const bandDb = (hz: number) => {
        const [from, to] = [2 ** (-1 / 6), 2 ** (1 / 6)].map((ratio) => Math.round((hz * ratio) / hzPerLine));
        return 10 * Math.log10(spectrum.subarray(from, to).reduce((sum, x) => sum + x, 0) / (to - from));
      };
      const atKilohertz = bandDb(1000);
      for (const hz of [40, 90, 200, 500, 2000, 5000, 10000, 13000, 16000]) {
        // Mean of a power law over a band of a third of an octave is within 0.02 dB of its middle.
        expect(Math.abs(bandDb(hz) - atKilohertz - 1.00343 * slopeDbPerOctave * Math.log2(hz / 1000))).toBeLessThan(1);
      }
    }
  });

  it('noise repeats with every note when asked to', () => {
    const two = [note(0, 0.2, 60), note(0.5, 0.2, 60)];
    for (const restart of ['note', 'free'] as const) {
      const [signal] = render(sourcePatch({ kind: 'noise', restart }), two, 1);
      const first = signal.slice(0, 0.1 * RATE);
      const second = signal.slice(0.5 * RATE, 0.6 * RATE);
      if (restart === 'note') expect(second).toEqual(first);
      else expect(second).not.toEqual(first);
    }
  });

  const tone = Float32Array.from({ length: RATE }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / RATE));

  function samplePatch(fields: Record<string, unknown>, samples = tone, rate = RATE): Patch {
    const patch = sourcePatch({ kind: 'sample', sampleId: 'one', rootMidi: 69, ...fields });
    patch.samples = [sampleFromChannels('one', 'One', rate, [samples])];
    return patch;
  }

  it('a sample plays at the pitch of the key, from any rate, up to its end', () => {
    const [octaveUp] = render(samplePatch({}), [note(0, 9, 81)], 1);
    expect(hzAt(octaveUp, 0.2)).toBeCloseTo(880, 0);
    expect(rms(octaveUp.subarray(0.6 * RATE))).toBeLessThan(1e-3);
    const slow = Float32Array.from({ length: 22050 }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / 22050));
    expect(hzAt(render(samplePatch({}, slow, 22050), [note(0, 9, 69)], 1)[0], 0.3)).toBeCloseTo(440, 0);
  });

  it('a sample played higher does not fold: noise above the new Nyquist frequency is gone', () => {
    const random = createRandom(4);
    const noise = Float32Array.from({ length: 2 * RATE }, () => 0.5 * (2 * random() - 1));
    const [signal] = render(samplePatch({}, noise), [note(0, 9, 81)], 0.5);
    // Played an octave up, half of white noise's power is over the Nyquist frequency.
    expect(decibels(rms(signal.subarray(2000)) / rms(noise))).toBeCloseTo(-3, 0);
  });

  it('a sample loops with a crossfade, and plays backwards', () => {
    const [looped] = render(
      samplePatch({ loop: true, loopStartSeconds: 0.3, loopEndSeconds: 0.5, crossfadeSeconds: 0.05 }),
      [note(0, 9, 69)],
      3,
    );
    expect(rms(looped.subarray(2.5 * RATE))).toBeGreaterThan(0.6);
    expect(largestStep(looped)).toBeLessThan(0.12);
    const rising = tone.map((x, i) => (x * i) / tone.length);
    const [backwards] = render(samplePatch({ reverse: true }, rising), [note(0, 9, 69)], 0.9);
    expect(rms(backwards.subarray(0, 4000))).toBeGreaterThan(4 * rms(backwards.subarray(0.85 * RATE)));
  });

  it('drawn partials sound at their levels and phases', () => {
    const patch = sourcePatch({ kind: 'partials', levelsDb: [-6, -96, -20], phasesCycles: [0.25] });
    const [signal] = render(patch, [note(0, 9, 45)], 1);
    expect(decibels(amplitudeAt(signal, RATE, 110))).toBeCloseTo(-6, 1);
    expect(decibels(amplitudeAt(signal, RATE, 220))).toBeLessThan(-90);
    expect(decibels(amplitudeAt(signal, RATE, 330))).toBeCloseTo(-20, 1);
    expect(signal[0]).toBeCloseTo(0, 1);
    expect(signal[200 - 100]).not.toBe(0);
  });

  it.each([
    [{ tuning: 'ratio', ratio: 1.5 }, 81, 1320],
    [{ tuning: 'fixed', fixedHz: 300 }, 81, 300],
    [{ octaves: -1, semitones: 7, cents: 50 }, 69, 220 * 2 ** (7.5 / 12)],
  ])('tuning %o at note %i sounds at %f Hz', (fields, midi, hz) => {
    expect(hzAt(render(plainPatch('sine', fields), [note(0, 9, midi)], 0.5)[0], 0.3, 0.1)).toBeCloseTo(hz, 0);
  });
});

describe('Where sources go', () => {
  /** A sine at 110 and one at 880 Hz; the first filter takes highs away, the second lows. */
  function routed(into: [string, string], filterOrder: 'series' | 'parallel' = 'series') {
    const patch = sourcePatch(
      { kind: 'shape', shape: 'sine', tuning: 'fixed', fixedHz: 110, into: into[0] },
      { kind: 'shape', shape: 'sine', tuning: 'fixed', fixedHz: 1760, into: into[1] },
    );
    const [layer] = patch.layers;
    layer.filterOrder = filterOrder;
    Object.assign(layer.filters[0], { on: true, cutoffHz: 300 });
    Object.assign(layer.filters[1], { on: true, cutoffHz: 600 });
    const [signal] = render(patch, [note(0, 9, 60)], 1);
    return [110, 1760].map((hz) => amplitudeAt(signal, RATE, hz) > 0.5);
  }
  it('in series everything of the first filter also goes through the second', () => {
    expect(routed(['first', 'first'])).toEqual([false, false]);
    expect(routed(['first', 'second'])).toEqual([false, true]);
    expect(routed(['past', 'past'])).toEqual([true, true]);
  });
  it('in parallel each goes its own way', () => {
    expect(routed(['first', 'second'], 'parallel')).toEqual([true, true]);
    expect(routed(['second', 'first'], 'parallel')).toEqual([false, false]);
    expect(routed(['both', 'both'], 'parallel')).toEqual([true, true]);
  });
});
