/** Leads, and lines that glide. */
import { detune, midi, notes, pitchFact, resonance, shape, slide, sweep, vibrato, voices, within } from './facts';
import { type Maker, mono, withSettings, scaled, soft } from './madeTone';
import {
  driven,
  falling,
  hzOf,
  level,
  lengthOf,
  mixed,
  noise,
  peakOf,
  pulse,
  shaped,
  spreadOf,
  square,
  tone,
  twoPole,
  voicesOf,
} from './parts';
import {
  curvePart,
  cutoffAt,
  detuneOf,
  fallingCutoff,
  levelTimes,
  lfoRate,
  noisePart,
  slideSettings,
  sourceAt,
  vibratoDepth,
} from './trueSettings';

export const leads = {
  'saw lead and a pair an octave up': ({ between, whole, random }) => {
    const [m, cents] = [whole(52, 67), between(8, 16)];
    const main = tone({ seconds: 2, hz: hzOf(m) });
    const pair = voicesOf({ seconds: 2, hz: hzOf(m + 12) }, [-cents / 2, cents / 2], random);
    const both = mixed(main, scaled(pair, between(0.4, 0.7)));
    return withSettings(
      mono(shaped(both, level({ off: 1.8 })), ['voices', 'motion'], midi(m)),
      sourceAt(['saw'], 0),
      sourceAt(['saw'], 12),
      detuneOf(cents),
    );
  },
  'sixteen saws on both sides': ({ between, whole, random }) => {
    const [m, cents] = [whole(50, 70), between(20, 40)];
    const [left, right] = [0, 1].map((side) =>
      shaped(
        voicesOf(
          { seconds: 2, hz: hzOf(m) },
          spreadOf(16, cents).filter((_, i) => i % 2 === side),
          random,
        ),
        level({ off: 1.8 }),
      ),
    );
    const gain = 0.5 / Math.max(peakOf(left), peakOf(right));
    return withSettings(
      {
        channels: [scaled(left, gain), scaled(right, gain)],
        has: ['voices', 'motion'],
        facts: [midi(m), detune(cents), voices(16)],
      },
      detuneOf(cents),
      sourceAt(['saw'], 0),
    );
  },
  'six voices on both sides': ({ between, whole, random }) => {
    const [m, cents] = [whole(45, 65), between(18, 36)];
    const [left, right] = [0, 1].map((side) =>
      shaped(
        voicesOf(
          { seconds: 2.5, hz: hzOf(m) },
          spreadOf(6, cents).filter((_, i) => i % 2 === side),
          random,
        ),
        level({ attack: 0.1, off: 2.2, release: 0.2 }),
      ),
    );
    const gain = 0.5 / Math.max(peakOf(left), peakOf(right));
    return withSettings(
      {
        channels: [scaled(left, gain), scaled(right, gain)],
        has: ['voices', 'motion'],
        facts: [midi(m), detune(cents), voices(6)],
      },
      detuneOf(cents),
      sourceAt(['saw'], 0),
      ...levelTimes({ attack: 0.1, release: 0.2 }),
    );
  },
  'brassy saw with a glide at the start': ({ between, whole }) => {
    const [m, st, tau] = [whole(50, 66), -between(3, 8), between(0.025, 0.05)];
    const brass = tone({ seconds: 1.3, hz: hzOf(m), semitones: (t) => st * Math.exp(-t / tau) });
    const low = twoPole(brass, 'low', () => 3000, 0.8);
    return withSettings(
      mono(shaped(low, level({ attack: 0.03, off: 1.1 })), ['slide'], midi(m), slide(st, tau, false)),
      ...slideSettings(st, tau),
      cutoffAt(0.5, 3000),
      sourceAt(['saw'], 0),
      ...levelTimes({ attack: 0.03 }),
    );
  },
  'saw lead with a growing vibrato': ({ between, whole }) => {
    const [m, rate, cents] = [whole(60, 76), between(4.5, 6.5), between(12, 40)];
    const lead = tone({
      seconds: 3,
      hz: hzOf(m),
      semitones: (t) => (cents / 100) * Math.min(1, t / 1.2) * Math.sin(2 * Math.PI * rate * t),
    });
    return withSettings(
      mono(shaped(lead, level({ off: 2.8 })), ['vibrato', 'motion'], midi(m), vibrato(rate, cents)),
      lfoRate(rate),
      vibratoDepth(cents),
      sourceAt(['saw'], 0),
    );
  },
  'square lead with vibrato': ({ between, whole }) => {
    const [m, rate, cents] = [whole(60, 76), between(4.5, 7), between(15, 60)];
    const lead = tone({
      seconds: 2,
      hz: hzOf(m),
      amplitude: square,
      semitones: (t) => (cents / 100) * Math.sin(2 * Math.PI * rate * t),
    });
    return withSettings(
      mono(shaped(lead, level({ off: 1.8 })), ['vibrato', 'motion'], midi(m), vibrato(rate, cents), shape('square')),
      lfoRate(rate),
      vibratoDepth(cents),
      sourceAt(['pulse'], 0),
    );
  },
  'two notes slurred': ({ between, whole }) => {
    const [m, step, glide] = [whole(48, 64), whole(3, 9), between(0.05, 0.12)];
    const line = tone({
      seconds: 1.6,
      hz: hzOf(m),
      semitones: (t) => (t < 0.7 ? 0 : step * Math.min(1, (t - 0.7) / glide)),
    });
    return mono(
      shaped(line, level({ off: 1.5 })),
      ['slide', 'motion'],
      notes([m, m + step]),
      pitchFact(
        'glide',
        glide,
        (p) => p.glideSeconds,
        (p) => within(p.glideSeconds, glide, 0.3),
        true,
      ),
    );
  },
  'resonant pulse into a drive': ({ between, whole }) => {
    const m = whole(33, 48);
    const [from, to] = [between(1500, 3000), between(300, 500)];
    const acid = twoPole(
      tone({ seconds: 1, hz: hzOf(m), amplitude: pulse(0.4) }),
      'low',
      falling(from, to, 0.12),
      between(5, 9),
    );
    const push = between(1.5, 3) / peakOf(acid);
    return withSettings(
      mono(
        shaped(
          driven(acid, (x) => soft(push * x)),
          level({ off: 0.8 }),
        ),
        ['dirt'],
        midi(m),
        resonance(5),
      ),
      ...fallingCutoff(from, to, 0.12),
      curvePart,
    );
  },
  'resonant square': ({ between, whole }) => {
    const m = whole(33, 50);
    const [from, to] = [between(1800, 3500), between(300, 600)];
    const line = twoPole(
      tone({ seconds: 1, hz: hzOf(m), amplitude: square }),
      'low',
      falling(from, to, 0.15),
      between(5, 9),
    );
    return withSettings(
      mono(shaped(line, level({ off: 0.8 })), [], midi(m), resonance(7), sweep(from, to)),
      ...fallingCutoff(from, to, 0.15),
      sourceAt(['pulse'], 0),
    );
  },
  'noise through a tuned band-pass': ({ whole, random }) => {
    const midis = [whole(60, 66), whole(67, 72), whole(60, 66)];
    const out = midis.map((m) =>
      shaped(
        twoPole(noise(0.5, random), 'band', () => hzOf(m), 60),
        level({ attack: 0.01, off: 0.4, release: 0.02 }),
      ),
    );
    const line = new Float64Array(lengthOf(1.5));
    out.forEach((one, i) => line.set(one.subarray(0, lengthOf(0.5)), lengthOf(0.5 * i)));
    return withSettings(mono(line, ['noise', 'motion', 'voices', 'slide'], notes(midis)), noisePart);
  },
} satisfies Record<string, Maker>;
