import { amplitudeAt, createRandom, decibels, harmonicTone, rms, saw, sine } from '../../../test/signals';
import type { ReadingNote } from '../schema';
import { isolate } from './isolate';
import { type Isolation, NO_ISOLATION, isolationSchema } from './settings';
import { thorough } from '../../../test/thorough';

const RATE = 44100;

const note = (onsetSeconds: number, durationSeconds: number, midi: number): ReadingNote => ({
  onsetSeconds,
  durationSeconds,
  midi,
  cents: 0,
  levelDb: -12,
});

const hz = (midi: number) => 440 * 2 ** ((midi - 69) / 12);
const added = (...parts: Float32Array[]) => parts[0].map((_, i) => parts.reduce((sum, part) => sum + part[i], 0));

/**
 * How far a part is from what it should be, dB: the signal-to-distortion ratio (Vincent et al. 2006, without
 * filters allowed).
 */
const distance = (found: Float32Array, wanted: Float32Array) =>
  decibels(rms(wanted) / rms(found.map((x, i) => x - wanted[i])));

/** Noise bursts at even times. */
function hits(seconds: number, every: number, level: number): Float32Array {
  const random = createRandom(3);
  const out = new Float32Array(Math.round(seconds * RATE));
  for (let at = every / 2; at < seconds; at += every) {
    const from = Math.round(at * RATE);
    for (let i = 0; i < 0.1 * RATE && from + i < out.length; i++) {
      out[from + i] += level * (2 * random() - 1) * Math.exp(-i / (0.02 * RATE));
    }
  }
  return out;
}

const keep = (channels: Float32Array[], changes: Partial<Isolation>, notes: ReadingNote[] = []) =>
  isolate({ channels, sampleRateHz: RATE }, { ...NO_ISOLATION, ...changes }, notes);

describe('an isolation', () => {
  const tone = harmonicTone({ f0Hz: 220, seconds: 1.5, amplitude: saw });
  const random = createRandom(1);
  const other = tone.map((x) => 0.3 * x + 0.2 * (random() - 0.5));

  it.each<[string, Partial<Isolation>]>([
    ['nothing', {}],
    ['a band', { band: { fromHz: 300, toHz: 3000 } }],
    ['the middle', { place: { kind: 'mid' } }],
    ['the sides', { place: { kind: 'side' } }],
    ['a range', { place: { kind: 'range', fromPan: -20, toPan: 20 } }],
    ['what is tonal', { character: 'tonal' }],
    ['partials', { partialsOnly: true }],
  ])('of %s keeps and leaves out what adds up to the original', (_, changes) => {
    const before = [tone.slice(), other.slice()];
    const { kept, leftOut } = keep(before, changes, [note(0, 1.5, 57)]);
    kept.channels.forEach((channel, c) => {
      expect(distance(added(channel, leftOut.channels[c]), before[c])).toBeGreaterThan(120);
    });
    expect(before).toEqual([tone, other]);
  });

  it('of nothing keeps everything', () => {
    const { kept, keptDb, leftOutDb } = keep([tone, other], {});
    expect(kept.channels).toEqual([tone, other]);
    expect([keptDb, leftOutDb]).toEqual([expect.closeTo(0, 6), -120]);
  });

  thorough.it('of a long cut is the same as of its parts', () => {
    // Longer than one part: a seam would be heard as a click.
    const long = harmonicTone({ f0Hz: 440, seconds: 25, amplitude: sine });
    const { kept } = keep([long], { band: { fromHz: 200, toHz: 2000 } });
    // Where the tone begins and ends at once it is wider than the band.
    const inside = [0.2 * RATE, 24.8 * RATE] as const;
    const deviation = kept.channels[0].subarray(...inside).map((x, i) => Math.abs(x - long[inside[0] + i]));
    expect(deviation.reduce((a, b) => Math.max(a, b))).toBeLessThan(0.001);
  });
});

describe('a band', () => {
  const low = harmonicTone({ f0Hz: 100, seconds: 1, amplitude: sine });
  const high = harmonicTone({ f0Hz: 3000, seconds: 1, amplitude: sine });
  const { kept, leftOut } = keep([added(low, high)], { band: { fromHz: 1000, toHz: 8000 } });
  const middle = (signal: Float32Array) => signal.subarray(0.2 * RATE, 0.8 * RATE);
  const level = (signal: Float32Array, at: number) => decibels(amplitudeAt(middle(signal), RATE, at) / 0.5);

  it('keeps what is inside within 0.1 dB and what is outside under -60 dB', () => {
    expect(level(kept.channels[0], 3000)).toBeCloseTo(0, 1);
    expect(level(kept.channels[0], 100)).toBeLessThan(-60);
    expect(level(leftOut.channels[0], 100)).toBeCloseTo(0, 1);
  });

  it('has its edges at -6 dB', () => {
    const edge = keep([harmonicTone({ f0Hz: 1000, seconds: 1, amplitude: sine })], {
      band: { fromHz: 1000, toHz: 8000 },
    });
    expect(level(edge.kept.channels[0], 1000)).toBeCloseTo(-6, 0);
  });
});

describe('the partials of notes', () => {
  const f0Hz = hz(57);
  const tone = harmonicTone({ f0Hz, seconds: 1.5, amplitude: saw });
  const sub = harmonicTone({ f0Hz: f0Hz / 2, seconds: 1.5, amplitude: sine });
  const middle = [0.3 * RATE, 1.2 * RATE] as const;
  const levelOf = (signal: Float32Array, at: number) => amplitudeAt(signal.subarray(...middle), RATE, at);

  it.each([
    [true, -0.5, 0.5],
    [false, -Infinity, -30],
  ])('take a sub with them where it is wanted: %s', (withSub, fromDb, toDb) => {
    const { kept } = keep([added(tone, sub)], { partialsOnly: true, withSub }, [note(0, 1.5, 57)]);
    const db = decibels(levelOf(kept.channels[0], f0Hz / 2) / levelOf(sub, f0Hz / 2));
    expect(db).toBeGreaterThan(fromDb);
    expect(db).toBeLessThan(toDb);
  });

  it('stay as loud as they are where a louder partial of another note stands beside them', () => {
    const other = harmonicTone({ f0Hz: f0Hz * 1.26, seconds: 1.5, amplitude: saw }).map((x) => 2 * x);
    const { kept } = keep([added(tone, other)], { partialsOnly: true }, [note(0, 1.5, 57)]);
    for (const n of [1, 2, 3])
      expect(Math.abs(decibels(levelOf(kept.channels[0], n * f0Hz) / levelOf(tone, n * f0Hz)))).toBeLessThan(1);
    expect(decibels(levelOf(kept.channels[0], 1.26 * f0Hz) / levelOf(other, 1.26 * f0Hz))).toBeLessThan(-30);
  });
});

describe('a place', () => {
  const a = harmonicTone({ f0Hz: 300, seconds: 1, amplitude: saw });
  const b = harmonicTone({ f0Hz: 471, seconds: 1, amplitude: saw });
  /** At constant power: sine and cosine of the angle. */
  const panned = (signal: Float32Array, pan: number) => {
    const angle = (Math.PI / 4) * (1 + pan / 100);
    return [signal.map((x) => x * Math.cos(angle)), signal.map((x) => x * Math.sin(angle))];
  };

  it('of mid and side is what both share and what they do not', () => {
    const left = added(a, b);
    const right = added(
      a,
      b.map((x) => -x),
    );
    for (const channel of keep([left, right], { place: { kind: 'mid' } }).kept.channels) {
      expect(distance(channel, a)).toBeGreaterThan(100);
    }
    const [sideL, sideR] = keep([left, right], { place: { kind: 'side' } }).kept.channels;
    expect(distance(sideL, b)).toBeGreaterThan(100);
    expect(
      distance(
        sideR,
        b.map((x) => -x),
      ),
    ).toBeGreaterThan(100);
  });

  it('of mono has no side', () => {
    expect(keep([a], { place: { kind: 'side' } }).keptDb).toBe(-120);
  });

  it('of a range keeps what is panned there', () => {
    const [aL, aR] = panned(a, -60);
    const [bL, bR] = panned(b, 50);
    const { kept } = keep([added(aL, bL), added(aR, bR)], { place: { kind: 'range', fromPan: -90, toPan: -30 } });
    expect(distance(kept.channels[0], aL)).toBeGreaterThan(15);
  });
});

describe('tonal and percussive', () => {
  const tone = harmonicTone({ f0Hz: 330, seconds: 3, amplitude: saw });
  const drums = hits(3, 0.5, 1.2);
  const mix = added(tone, drums);

  it('part a steady tone and hits', () => {
    const tonal = keep([mix], { character: 'tonal' }).kept.channels[0];
    const percussive = keep([mix], { character: 'percussive' }).kept.channels[0];
    expect(distance(mix, tone)).toBeLessThan(9);
    expect(distance(tonal, tone)).toBeGreaterThan(distance(mix, tone) + 5);
    expect(distance(percussive, drums)).toBeGreaterThan(distance(mix, drums) + 8);
  });

  it('hits come down, and the note keeps its own onset', () => {
    const wanted = new Float32Array(mix.length);
    wanted.set(tone.subarray(0, tone.length - 0.6 * RATE), 0.6 * RATE);
    const { kept } = keep([added(wanted, drums)], { hitsDown: true }, [note(0.6, 2.4, 64)]);
    const held = [Math.round(0.7 * RATE), mix.length] as const;
    const without = added(wanted, drums).subarray(...held);
    expect(distance(kept.channels[0].subarray(...held), wanted.subarray(...held))).toBeGreaterThan(
      distance(without, wanted.subarray(...held)) + 5,
    );
    // The first 40 ms of the note, between two hits, are as loud as before.
    const attack = [Math.round(0.6 * RATE), Math.round(0.64 * RATE)] as const;
    expect(decibels(rms(kept.channels[0].subarray(...attack)) / rms(wanted.subarray(...attack)))).toBeGreaterThan(-1.5);
  });
});

describe('partials of notes', () => {
  const chord = [57, 61, 64].map((midi) => harmonicTone({ f0Hz: hz(midi), seconds: 3, amplitude: saw }));
  const bass = harmonicTone({ f0Hz: hz(38), seconds: 3, amplitude: saw });
  const drums = hits(3, 0.5, 0.8);
  const pad = added(...chord);
  const mix = added(pad, bass, drums);
  const notes = [57, 61, 64].map((midi) => note(0, 3, midi));

  it('take a chord out from over a bass and drums', () => {
    const { kept, residueDb } = keep([mix], { partialsOnly: true }, notes);
    expect(distance(kept.channels[0], pad)).toBeGreaterThan(distance(mix, pad) + 7);
    expect(residueDb).toBeLessThan(-15);
    expect(keep([mix], { character: 'percussive' }, notes).residueDb).toBeGreaterThan(-8);
  });

  it('with hits taken down are nearer still', () => {
    const alone = distance(keep([mix], { partialsOnly: true }, notes).kept.channels[0], pad);
    const both = distance(keep([mix], { partialsOnly: true, hitsDown: true }, notes).kept.channels[0], pad);
    expect(both).toBeGreaterThan(alone);
  });

  it('follow a vibrato of half a semitone', () => {
    const phase = (t: number) =>
      2 * Math.PI * (440 * t + ((440 * 0.5) / 12 / 5.5 / 2 / Math.PI) * Math.LN2 * Math.sin(2 * Math.PI * 5.5 * t));
    const wanted = new Float32Array(2 * RATE).map((_, i) => {
      let sum = 0;
      for (let n = 1; n <= 12; n++) sum += (0.2 / n) * Math.sin(n * phase(i / RATE));
      return sum;
    });
    const noise = hits(2, 0.25, 0.4);
    const { kept } = keep([added(wanted, noise)], { partialsOnly: true }, [note(0, 2, 69)]);
    expect(distance(kept.channels[0], wanted)).toBeGreaterThan(distance(added(wanted, noise), wanted) + 3);
  });

  it('follow it up to high partials, which stray further within a window', () => {
    const [rateHz, cents] = [6, 45];
    const phaseOf = (t: number) =>
      hz(74) * (t - ((cents / 1200) * Math.LN2 * Math.cos(2 * Math.PI * rateHz * t)) / (2 * Math.PI * rateHz));
    const partial = (n: number) =>
      Float32Array.from({ length: 1.6 * RATE }, (_, i) => Math.sin(2 * Math.PI * n * phaseOf(i / RATE)) / n);
    const partials = Array.from({ length: 20 }, (_, k) => partial(k + 1));
    const top = added(...partials.slice(10));
    const { kept } = keep([added(...partials)], { partialsOnly: true }, [note(0, 1.6, 74)]);
    const keptTop = kept.channels[0].map((x, i) => x - partials.slice(0, 10).reduce((sum, p) => sum + p[i], 0));
    expect(distance(keptTop.subarray(RATE / 4, 1.3 * RATE), top.subarray(RATE / 4, 1.3 * RATE))).toBeGreaterThan(12);
  });

  it('leave the silence after a note silent', () => {
    const short = new Float32Array(2 * RATE);
    short.set(harmonicTone({ f0Hz: 440, seconds: 0.5, amplitude: saw }), 0);
    const later = new Float32Array(2 * RATE);
    later.set(harmonicTone({ f0Hz: 440, seconds: 0.5, amplitude: saw }), 1.2 * RATE);
    const { kept } = keep([added(short, later)], { partialsOnly: true }, [note(0, 0.5, 69), note(1.2, 0.3, 60)]);
    expect(rms(kept.channels[0].subarray(1.25 * RATE, 1.45 * RATE))).toBeLessThan(
      0.4 * rms(later.subarray(1.25 * RATE, 1.45 * RATE)),
    );
  });
});

describe('settings', () => {
  it.each([
    [{ band: { fromHz: 500, toHz: 400 } }, 'The upper edge of the band lies over the lower one.'],
    [{ place: { kind: 'range', fromPan: 40, toPan: 40 } }, 'The range ends to the right of where it begins.'],
  ])('that cannot be are refused: %j', (changes, message) => {
    const { success, error } = isolationSchema.safeParse({ ...NO_ISOLATION, ...changes });
    expect(success).toBe(false);
    expect(error!.issues[0].message).toBe(message);
  });
});
